<?php

declare(strict_types=1);

namespace Vorhut\Web\Services;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Catalogue\Role;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\CallMenu;
use Vorhut\Core\Plan\Device;
use Vorhut\Core\Plan\Face;
use Vorhut\Core\Plan\Plan;
use Vorhut\Core\Plan\Trunk;
use Vorhut\Core\Proof\ProofTest;
use Vorhut\Core\Proof\TestResult;
use Vorhut\Core\Voice\Decision;
use Vorhut\Core\Voice\Dial;
use Vorhut\Core\Voice\Dialling\TimeFrame;
use Vorhut\Core\Voice\Numbering;
use Vorhut\Core\Voice\OutsideLines;
use Vorhut\Core\Voice\Switching;
use Vorhut\Core\Voice\Test\CallCover;
use Vorhut\Core\Voice\TrunkWay;
use Vorhut\Web\Frame\JobPages;

/** Outside calls: trunks, routes, inbound routes, menus, groups; and the simulator that tries them. */
final readonly class CallsController
{
    public function __construct(private JobPages $pages)
    {
    }

    #[Route('/j/{slug}/services/calls', name: 'calls', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $plan = $view->plan;
        $model = $view->networkModel(Face::Set);
        $from = mb_substr($request->query->getString('from'), 0, 200);
        $digits = mb_substr(preg_replace('/[^0-9*#]/', '', $request->query->getString('digits')) ?? '', 0, 40);
        $at = strtr($request->query->getString('at'), ['T' => ' ']);
        $at = TimeFrame::isWallTime($at) ? $at : '';
        $dial = self::dial($plan, $model, $from, $digits, $at);
        $by = [];
        foreach ($dial->routing->decisions ?? [] as $decision) {
            $by[$decision->record] ??= $decision;
        }

        return $this->pages->show($view, 'services', $request, [
            'asked' => ['from' => $from, 'digits' => $digits, 'at' => strtr($at, [' ' => 'T'])],
            'dial' => $dial,
            'by' => $by,
            'aside' => array_filter(
                $dial->routing->decisions ?? [],
                static fn (Decision $one): bool => 1 !== preg_match('~^(callRoutes|inboundRoutes)/~', $one->record),
            ),
            'ways' => array_map(static fn (Trunk $trunk): ?TrunkWay => null === $trunk->far && null === $trunk->address
                ? null
                : TrunkWay::of($model, $trunk), $plan->trunks),
            'cover' => CallCover::of($plan, array_map(static fn (TestResult $one): ProofTest => $one->test, $view->proof()->results)),
            'tries' => array_filter($view->proof()->results, static fn (TestResult $one): bool => $one->test->isCallToTry()),
            'leads' => self::leads($plan),
            'lines' => OutsideLines::of($plan),
            'pbxes' => array_filter($plan->devices, static fn (Device $device): bool => $device->kind->has(Role::Registrar)),
        ], 'services/calls.html.twig');
    }

    private static function dial(Plan $plan, NetworkModel $model, string $from, string $digits, string $at): ?Dial
    {
        if ('' === $digits) {
            return null;
        }
        $trunk = str_starts_with($from, 'trunks/') ? $plan->trunks[substr($from, 7)] ?? null : null;
        $extension = $plan->extensionNumbered($from);

        return match (true) {
            null !== $trunk => Dial::arriving($model, $trunk, $digits, $at),
            null !== $extension => Dial::of($model, $extension, $digits, null, $at),
            default => null,
        };
    }

    /** @return array<string, string> PBX and number → its name, for all numbers that menus, groups and inbound routes lead to */
    private static function leads(Plan $plan): array
    {
        $asked = [];
        foreach ([...array_values($plan->menus), ...array_values($plan->ringGroups)] as $one) {
            foreach ([$one->otherwise, ...($one instanceof CallMenu ? array_values($one->choices) : $one->members)] as $number) {
                $asked[$one->pbx.' '.$number] = [$one->pbx, $number];
            }
        }
        foreach ($plan->inboundRoutes as $one) {
            $pbx = $plan->trunks[$one->trunk]->pbx ?? '';
            $asked[$pbx.' '.$one->to] = [$pbx, $one->to];
        }
        $numbering = Numbering::of($plan);

        return array_map(static fn (array $one): string => $numbering->at($one[0], $one[1])->name
            ?? Switching::of($plan)->forwarded($one[0], $one[1])->route->name
            ?? '', $asked);
    }
}
