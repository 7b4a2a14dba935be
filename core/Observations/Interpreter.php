<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Problems\InputRejected;

/**
 * Knows one kind of observation: what it adds to what is known. The only place that knows the kind.
 */
interface Interpreter
{
    public function kind(): string;

    /**
     * @throws InputRejected when the observation cannot be meant as it stands
     */
    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution;
}
