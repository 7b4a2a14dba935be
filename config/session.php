<?php

declare(strict_types=1);

// No route uses a session; the framework only wants to find the file.
return ['driver' => 'array', 'lifetime' => 120, 'cookie' => 'zap-trace'];
