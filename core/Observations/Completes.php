<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Problems\InputRejected;

/**
 * An interpreter whose observations are worked out once, when they are made, and kept with what was found: large files
 * are not read again each time the job is opened.
 */
interface Completes
{
    /**
     * @param  object  $payload  as it came in; valid by its schema
     * @return object the payload with what was found
     *
     * @throws InputRejected with everything that is wrong with it
     */
    public function complete(object $payload, Moment $moment, Attachments $attachments): object;
}
