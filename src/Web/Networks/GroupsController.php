<?php

declare(strict_types=1);

namespace Vorhut\Web\Networks;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\IsGranted;
use Vorhut\Core\Network\Discovery\Delivery;
use Vorhut\Core\Network\Discovery\FreeGroup;
use Vorhut\Core\Network\Discovery\MulticastGroup;
use Vorhut\Core\Network\Walk\NetworkModel;
use Vorhut\Core\Plan\Face;
use Vorhut\Web\Frame\JobPages;

/** Multicast groups: who sends, who listens, whether it arrives. */
final readonly class GroupsController
{
    public function __construct(private JobPages $pages)
    {
    }

    #[Route('/j/{slug}/networks/groups', name: 'groups', methods: ['GET'])]
    #[IsGranted('ROLE_VIEWER')]
    public function page(Request $request, string $slug): Response
    {
        $still = $this->pages->notModified($request, $slug);
        if (null !== $still) {
            return $still;
        }
        $view = $this->pages->open($slug);
        $joins = [];
        foreach ($view->plan->records('joins') as $row) {
            $joins[$row->text('group').' '.$row->text('device')] = $row->text('key');
        }
        $groups = [];
        $model = NetworkModel::of($view->plan, Face::Set);
        foreach (MulticastGroup::all($view->plan) as $group) {
            $rows = [];
            foreach ($group->receivers as $device) {
                $rows[] = [
                    'device' => $device,
                    'delivery' => Delivery::of($view->plan, $group, $device, $model),
                    'join' => $joins[$group->key.' '.$device->key] ?? '',
                ];
            }
            $groups[] = ['group' => $group, 'rows' => $rows];
        }

        return $this->pages->show($view, 'networks', $request, [
            'groups' => $groups,
            'groupNames' => array_column(array_map(
                static fn (array $one): array => [$one['group']->key, $one['group']->name],
                $groups,
            ), 1, 0),
            'free' => (string) FreeGroup::next($view->plan),
        ], 'networks/groups.html.twig');
    }
}
