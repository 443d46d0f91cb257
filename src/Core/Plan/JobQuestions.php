<?php

declare(strict_types=1);

namespace Vorhut\Core\Plan;

/** What the Brief asks about the whole job: asked of the administrator, and named where a step waits for the answer. */
final class JobQuestions
{
    public const ADMINISTRATOR = [
        'adminName' => 'Who answers as administrator of the network?',
        'adminMail' => 'At which mail address does the administrator answer?',
        'country' => 'In which country is the site? It decides the emergency numbers, mains frequency and mains voltage.',
        'timeZone' => 'Which time zone do the devices show?',
        'language' => 'Which language do phones and screens show?',
        'ntp' => 'Which time server do the devices use, or is there none?',
        'dns' => 'Which DNS server do the devices use, or is there none?',
    ];
}
