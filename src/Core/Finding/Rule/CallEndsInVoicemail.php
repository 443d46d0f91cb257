<?php

declare(strict_types=1);

namespace Vorhut\Core\Finding\Rule;

use Vorhut\Core\Finding\Finding;
use Vorhut\Core\Finding\Ground;
use Vorhut\Core\Finding\Rule;
use Vorhut\Core\Finding\Stage;
use Vorhut\Core\Finding\Weight;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Proof\Outcome;
use Vorhut\Core\Voice\Registration;

/** A call goes to voicemail because no device is registered, and is taken for a pass. */
final class CallEndsInVoicemail implements Rule
{
    public function find(Ground $ground): iterable
    {
        foreach ($ground->plan->extensions as $extension) {
            $phone = $ground->plan->devices[$extension->phone ?? ''] ?? null;
            if (!$extension->voicemail || 'sip' !== $extension->terminal || (null !== $phone && !$ground->sheet($phone)->isMarked('server') && null === $phone->value('provisioning')->set)) {
                continue;
            }
            $registration = Registration::of($ground->fabric(), $extension);
            if ($registration->holds) {
                continue;
            }
            yield new Finding(
                'call-ends-in-voicemail',
                Weight::Risk,
                Stage::Services,
                ['extensions/'.$extension->key, ...(null === $phone ? [] : ['devices/'.$phone->key])],
                new Message('Calls to {number} end in voicemail: {why}', ['number' => $extension->number, 'why' => (string) $registration->why]),
                new Message('Somebody answers, so it is taken for a pass, and the phone never rings.'),
                new Message('Mend the registration; a test call counts only when the device answers.'),
            );
        }
        foreach ($ground->proof()->lines as $proved) {
            if (Outcome::Voicemail === $proved->observed() && Outcome::Voicemail !== $proved->line->expected) {
                yield new Finding(
                    'call-ends-in-voicemail',
                    Weight::Blocks,
                    Stage::Proof,
                    ['devices/'.$proved->line->to, 'lines/'.$proved->line->key],
                    new Message('{called} was called and voicemail answered.', ['called' => (string) $proved->line->called]),
                    new Message('Somebody answers, so it is taken for a pass, and the phone never rings.'),
                    new Message('Look whether the phone is registered, then call again.'),
                );
            }
        }
    }
}
