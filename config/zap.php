<?php

declare(strict_types=1);

return [
    // Host names under which the application answers. Others are refused, so that no page from elsewhere can
    // reach it under a name of its own.
    'hosts' => array_filter(explode(',', (string) env('ZAP_HOSTS', '127.0.0.1,localhost,[::1]'))),

    // Hash of the passphrase that lets devices on the workshop's network join; empty: nothing but this machine is answered.
    'lan' => (string) env('ZAP_LAN_HASH', ''),
];
