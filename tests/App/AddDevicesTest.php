<?php

declare(strict_types=1);

namespace Vorhut\Tests\App;

use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Tester\CommandTester;
use Vorhut\Tests\Support\JobPagesTestCase;

final class AddDevicesTest extends JobPagesTestCase
{
    /** @param array<string, string> $values */
    private function add(array $values): void
    {
        $this->page('devices');
        $this->send('/devices/add', [], $values);
        $this->browser->followRedirect();
    }

    public function testTheFormKeepsKindRoomAndSegmentForTheNextDevice(): void
    {
        $this->enter();
        $before = \count($this->plan($this->job)->devices);
        $this->add(['kind' => 'ptz', 'room' => 'Quay', 'segment' => 'quay', 'count' => '2']);
        $form = $this->browser->getCrawler()->filter('form[action$="/devices/add"]');
        self::assertSame(['ptz', 'Quay', ''], array_map(
            static fn (string $name): ?string => $form->filter("input[name=$name]")->attr('value'),
            ['kind', 'room', 'count'],
        ));
        self::assertSame('quay', $form->filter('option[selected]')->attr('value'));
        self::assertCount($before + 2, $this->plan($this->job)->devices);
        $this->send('/devices/add', [], ['label' => 'NM-9001']);
        self::assertCount($before + 3, $this->plan($this->job)->devices);
    }

    public function testWhatIsRefusedStaysWhereItWasTyped(): void
    {
        $this->enter();
        $before = \count($this->plan($this->job)->devices);
        foreach ([
            'kind' => ['kind' => 'toaster', 'room' => 'Quay'],
            'count' => ['kind' => 'ptz', 'count' => '900'],
            'tag' => ['kind' => 'ptz', 'tag' => 'CAM-01'],
            'label' => ['kind' => 'ptz', 'tag' => 'X1', 'count' => '2', 'label' => 'NM-1'],
        ] as $field => $values) {
            $this->add($values);
            $input = $this->browser->getCrawler()->filter("form[action$=\"/devices/add\"] input[name=$field]");
            self::assertSame(['true', $values[$field] ?? null], [$input->attr('aria-invalid'), $input->attr('value')], $field);
        }
        self::assertCount($before, $this->plan($this->job)->devices);
    }

    public function testADeviceIsRenamedToATagThatIsFree(): void
    {
        $this->enter();
        foreach (['cam-02' => 'CAM-01', 'EAST' => 'EAST'] as $wish => $expected) {
            $this->page('devices?sel=devices/cam-01');
            $this->send('/edit', ['record' => 'devices/cam-01', 'field' => 'tag'], ['value' => $wish]);
            self::assertSame($expected, $this->plan($this->job)->devices['cam-01']->tag);
        }
        self::assertSame('devices/cam-01', $this->plan($this->job)->deviceTagged('east')?->record());
    }

    public function testTheCommandAddsTheSame(): void
    {
        $this->enter();
        self::assertNotNull(self::$kernel);
        $command = new CommandTester((new Application(self::$kernel))->find('vorhut:add'));
        $before = \count($this->plan($this->job)->devices);
        self::assertSame(0, $command->execute(['job' => $this->job->slug, 'kind' => 'PTZ', '--segment' => 'Quay', '--count' => '2']));
        self::assertCount($before + 2, $this->plan($this->job)->devices);
        $this->expectExceptionMessage('toaster');
        $command->execute(['job' => $this->job->slug, 'kind' => 'toaster']);
    }
}
