<?php

declare(strict_types=1);

namespace Vorhut\Web\Bench;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Bench\Keypad;
use Vorhut\Core\Bench\KeypadProfile;
use Vorhut\Core\Bench\RunSheet;
use Vorhut\Core\Net\Malformed;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Plan\FieldType;
use Vorhut\Core\Plan\Message;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Row;
use Vorhut\Core\Plan\Schema;
use Vorhut\Journal\Conflict;
use Vorhut\Journal\Journal;
use Vorhut\Secrets\Vault;
use Vorhut\Web\Frame\Room;
use Vorhut\Web\Frame\Rooms;
use Vorhut\Web\Frame\Slips;

/** The queue of stops and the run sheet of the device in hand. */
final readonly class BenchController
{
    private const SECRET_SECONDS = 90;

    public function __construct(private Rooms $rooms, private Journal $journal, private Vault $vault, private Slips $slips, private string $baseUrl)
    {
    }

    #[Route('/j/{slug}/bench', name: 'bench', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->rooms->unchanged($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $room = $this->rooms->open($slug);
        $device = $this->inHand($room, $request->query->getString('sel'));
        $stop = null === $device ? $room->queue()->current($room->plan) : $room->queue()->stopOf($device->key);

        return $this->rooms->show($room, 'bench', $request, [
            'queue' => $room->queue(),
            'stop' => $stop,
            'device' => $device,
            'sheet' => null === $device ? null : RunSheet::of($room->plan, $device),
            'keypads' => null === $device ? [] : $this->keypads($room, $device),
            'url' => $this->url($room),
            'secret' => null === $device ? null : $this->shown($request, $room, 'devices/'.$device->key),
        ]);
    }

    #[Route('/j/{slug}/bench/mark', name: 'mark', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function mark(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        $form = $request->request;
        $device = $room->plan->devices[$form->getString('device')] ?? throw new NotFoundHttpException('There is no such device.');
        $step = $device->kind->step($form->getString('step')) ?? throw new NotFoundHttpException('There is no such step.');
        $state = $form->getString('state');
        $note = trim($form->getString('note'));
        $at = 'mark:'.$device->key.'.'.$step->code;
        $typed = [];
        $errors = [];
        foreach ($step->records as $field) {
            $text = trim($form->getString('typed_'.$field));
            if ('' !== $text) {
                try {
                    $type = Schema::FACED['nics'][$field] ?? Schema::FACED['devices'][$field] ?? FieldType::Text;
                    $read = '-' === $text ? '' : $type->read($text);
                    $typed[$field] = \is_scalar($read) ? (string) $read : '';
                } catch (Malformed $e) {
                    $errors[$field] = $e->getMessage();
                }
            }
        }
        if (\in_array($state, ['skipped', 'failed', 'blocked'], true) && '' === $note) {
            $errors['note'] = 'Write why.';
        }
        if ('done' === $state && \in_array('address', $step->records, true) && null === $device->nic()?->plannedAddress()) {
            $errors['address'] = 'It has no planned address yet: allocate first.';
        }
        if ([] !== $errors || !\in_array($state, ['open', 'done', 'skipped', 'failed', 'blocked'], true)) {
            $this->slips->keep($at, $form->all(), $errors);

            return $this->rooms->back($request, "/j/$slug/bench?sel=devices/".$device->key);
        }
        $change = RunSheet::of($room->plan, $device)->markChange($step, $state, $note, $this->rooms->user()->name, $this->journal->now(), $typed);
        try {
            $this->journal->write($room->job, new Change($change->why, [...$change->edits, ...$this->password($room->plan, $device, $step->code, $state)]), $this->rooms->user()->name);
        } catch (Conflict $e) {
            $this->slips->keep($at, $form->all(), ['note' => $e->getMessage()]);
        }

        return $this->rooms->back($request, "/j/$slug/bench?sel=devices/".$device->key);
    }

    /** A secret, shown on demand and every showing entered in the journal. */
    #[Route('/j/{slug}/bench/secret', name: 'secret', methods: ['POST'])]
    #[IsGranted('ROLE_TECHNICIAN')]
    public function secret(Request $request, string $slug): Response
    {
        $this->rooms->checkToken($request);
        $room = $this->rooms->open($slug);
        $owner = $request->request->getString('owner');
        $purpose = $request->request->getString('purpose', 'admin');
        $this->vault->fill($room->job, $room->plan, $this->rooms->user()->name);
        $plan = $this->rooms->open($slug)->plan;
        $secret = $this->vault->secretOf($room->job, $owner, $purpose);
        if (null !== $secret) {
            $credential = $plan->credential($owner, $purpose);
            $row = null === $credential ? null : $plan->row('credentials', $credential->key);
            // An entry that changes nothing: the showing itself is what is written down.
            null === $row || $this->journal->write($room->job, new Change(new Message('Secret shown: {purpose} of {owner}.', ['purpose' => $purpose, 'owner' => $owner]), [Edit::put('credentials', Row::keyOf($row), 'user', $row['user'] ?? null, $row['user'] ?? null)]), $this->rooms->user()->name);
            $this->slips->keep('secret:'.$owner, ['purpose' => $purpose], [], [], self::SECRET_SECONDS);
        }

        return $this->rooms->back($request, "/j/$slug/bench");
    }

    /** The secret that was asked for a moment ago from this very page; only the asking is kept, never the secret. */
    private function shown(Request $request, Room $room, string $owner): ?string
    {
        $purpose = ((array) ($this->slips->of($request)['secret:'.$owner]['typed'] ?? []))['purpose'] ?? null;

        return \is_string($purpose) ? $this->vault->secretOf($room->job, $owner, $purpose) : null;
    }

    private function inHand(Room $room, string $selected): ?Device
    {
        [$section, $key] = explode('/', $selected, 2) + [1 => ''];
        $device = 'devices' === $section ? $room->plan->devices[$key] ?? null : null;
        if (null !== $device) {
            return $device;
        }
        foreach ($room->queue()->current($room->plan)?->devices() ?? [] as $one) {
            if (!RunSheet::of($room->plan, $one)->isDone()) {
                return $one;
            }
        }

        return null;
    }

    /** @return array<string, array<string, Keypad>> step → value name → keys to press */
    private function keypads(Room $room, Device $device): array
    {
        $profile = KeypadProfile::named($device->kind->keypad ?? '');
        $sheets = [];
        foreach (null === $profile ? [] : $device->kind->steps as $step) {
            foreach ($step->keypad ? RunSheet::of($room->plan, $device)->values($step) : [] as $name => $value) {
                $text = 'url' === $name ? $this->url($room) : $value;
                try {
                    null === $profile || null === $text || '' === $text || $sheets[$step->code][$name] = Keypad::shortest($text, $profile);
                } catch (Malformed) {
                    continue;
                }
            }
        }

        return $sheets;
    }

    private function url(Room $room): string
    {
        return \sprintf('%s/p/%s/', $this->baseUrl, $room->job->fileToken);
    }

    /** @return list<Edit> once the step "password" is done, the device no longer holds its default */
    private function password(Plan $plan, Device $device, string $step, string $state): array
    {
        $credential = $plan->credential('devices/'.$device->key, 'admin');

        return 'password' === $step && 'done' === $state && true === $credential?->isDefault
            ? [Edit::put('credentials', $credential->key, 'state', 'default', 'changed')]
            : [];
    }
}
