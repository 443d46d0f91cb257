<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use PHPUnit\Framework\Attributes\TestWith;
use Vorhut\Core\Plan\Change;
use Vorhut\Core\Plan\Edit;
use Vorhut\Core\Text\Message;
use Vorhut\Entity\User;
use Vorhut\Journal\EditRight;
use Vorhut\Journal\JournalEntries;
use Vorhut\Journal\Refused;
use Vorhut\Tests\Support\JobPagesTestCase;

/** Who may take back what. */
final class UndoTest extends JobPagesTestCase
{
    /** @param non-empty-string $login */
    private function person(string $login, string $role): User
    {
        $user = new User($login, 'Jo', $role);
        $user->passwordHash = '-';
        $manager = self::service(EntityManagerInterface::class);
        $manager->persist($user);
        $manager->flush();

        return $user;
    }

    private function by(User|string $who, Edit ...$edits): void
    {
        $this->changes()->write($this->fresh($this->job), new Change(new Message('test'), array_values($edits)), $who);
    }

    private function take(): void
    {
        $this->page('brief');
        $this->send('/undo', [], []);
    }

    /** @param array<string, string|null> $row */
    #[TestWith(['devices', 'room', null, false])]
    #[TestWith(['devices', 'tag', null, true])]
    #[TestWith(['job', 'filesHost', null, true])]
    #[TestWith(['settings', 'set', null, false])]
    #[TestWith(['settings', 'planned', null, true])]
    #[TestWith(['settings', '', ['key' => 'x', 'planned' => '1'], true])]
    #[TestWith(['settings', '', ['key' => 'x', 'set' => '1'], false])]
    #[TestWith(['marks', '', ['key' => 'x'], false])]
    #[TestWith(['devices', '', ['key' => 'x'], true])]
    public function testWhatATechnicianMayChange(string $section, string $field, ?array $row, bool $needsLead): void
    {
        $edits = null === $row
            ? [Edit::put($section, 'x', $field, null, 'y')]
            : [Edit::add($section, $row), Edit::remove($section, $row)];
        foreach ($edits as $edit) {
            self::assertSame($needsLead, EditRight::needsLead($edit));
            self::assertSame($needsLead, EditRight::needsLead($edit->reverse()));
        }
    }

    public function testWhoIsNoLeadAnyMoreTakesBackNoPlan(): void
    {
        $this->enter();
        $user = self::service(EntityManagerInterface::class)->getRepository(User::class)->findOneBy(['login' => 'test-lead'])
            ?? self::fail('nobody is there');
        $this->by($user, Edit::put('job', '', 'site', $this->plan($this->job)->job->textOrNull('site'), 'Elsewhere'));
        $user->role = 'technician';
        self::service(EntityManagerInterface::class)->flush();
        $this->browser->loginUser($user);
        $this->take();
        self::assertSame('Elsewhere', $this->plan($this->job)->job->text('site'));
        self::assertStringContainsString('Only a lead engineer can undo it', $this->browser->followRedirect()->text());

        // What a technician may do, a technician may take back.
        $this->by($user, Edit::put('devices', 'cam-01', 'note', null, 'loose bracket'));
        $this->take();
        self::assertNull($this->plan($this->job)->row('devices', 'cam-01')['note'] ?? null);
    }

    public function testANameIsNobodysOwn(): void
    {
        $this->enter();
        $first = $this->person('jo-first', 'lead');
        $second = $this->person('jo-second', 'technician');
        $this->by($first, Edit::put('devices', 'cam-01', 'note', null, 'by the first Jo'));
        $this->by('Jo', Edit::put('devices', 'cam-02', 'note', null, 'by nobody that has a login'));
        self::assertNull($this->undoStack()->undoable($this->fresh($this->job), $second));
        foreach (self::service(JournalEntries::class)->all($this->fresh($this->job), 2) as $entry) {
            try {
                $this->undoStack()->undo($this->fresh($this->job), $entry, $second);
                self::fail('it is not theirs');
            } catch (Refused $e) {
                self::assertStringContainsString('each takes back their own', $e->getMessage());
            }
        }
        self::assertNotNull($this->undoStack()->undoable($this->fresh($this->job), $first));
        self::assertSame('by the first Jo', $this->plan($this->job)->row('devices', 'cam-01')['note'] ?? null);
    }
}
