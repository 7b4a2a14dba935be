<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Memory\PatternFinding;

/**
 * Turns findings into suspects. Interpreters make findings and know nothing of suspects; a ranking knows nothing
 * of how a finding was made.
 */
interface Ranking
{
    /**
     * @param  list<PatternFinding>  $findings
     * @return list<Suspect> in falling order of share
     */
    public function rank(array $findings, BoardProfile $board): array;
}
