import { type ComputedRef, computed } from 'vue';
import { GroupId, ItemId } from '#core/ids.ts';
import { dissolveGroup, placeItem, stepOf } from '#core/scene/edits/cards.ts';
import { groupWithBelow, setItem, ungroup } from '#core/scene/edits/items.ts';
import { duplicateItem, removeItem, setAdjusted } from '#core/scene/edits/stack.ts';
import type { Item } from '#core/scene/item.ts';
import { groupAround, ownerOf, shownItems } from '#core/scene/tree.ts';
import { itemLabel } from '../../../frameLabel.ts';
import { useBench } from '../../../stores/bench.ts';
import { useSession } from '../../../stores/session.ts';

export interface CardAction {
  label: string;
  run: () => void;
}

/** In which mode and how strongly an item is laid; what is usual is left out. */
export function howLaid({ item, mode, opacity }: Item): string {
  const isTold = opacity < 1 || (mode === 'normal' && item === 'layer');
  return [mode === 'normal' ? '' : mode, isTold ? `${Math.round(opacity * 100)} %` : ''].filter(Boolean).join(' ');
}

/** What can be done with a card of the stack. */
export function useCard(item: () => Item) {
  const session = useSession();
  const bench = useBench();

  const label = computed(() => itemLabel(session.scene, item()));
  const owner = computed(() => ownerOf(session.scene, item().id));
  const group = computed(() => (owner.value ? undefined : groupAround(session.scene, item().id)));
  const siblings = computed(() => shownItems(group.value?.items ?? session.scene.stack, session.scene.base));
  const place = computed(() => siblings.value.findIndex(({ id }) => id === item().id));
  /** It and the card below can be a group, or it joins the group below. */
  const canJoin = computed(() => !owner.value && place.value > 0);

  const set = (change: Parameters<typeof setItem>[0]['change']) => session.dispatch(setItem({ id: item().id, change }));
  const move = (by: 1 | -1) => {
    const to = stepOf(session.scene, item().id, by);
    if (to) session.dispatch(placeItem(to));
  };
  const canMove = (by: 1 | -1) => !owner.value && stepOf(session.scene, item().id, by) !== undefined;
  const join = () =>
    session.dispatch(groupWithBelow({ layerId: item().id, id: GroupId.parse(crypto.randomUUID()), isPainted: true }));
  const leave = () => session.dispatch(ungroup({ layerId: item().id }));
  function duplicate(withMask: boolean): void {
    const id = ItemId.parse(crypto.randomUUID());
    session.dispatch(duplicateItem({ of: item().id, id, withMask, isBegun: true }));
    bench.state.layerId = id;
  }

  /** Shown by itself over the base as long as it is held. */
  function holdAlone(isHeld: boolean): void {
    if (isHeld) bench.state.layerId = item().id;
    bench.tried = isHeld ? 'alone' : undefined;
  }

  const actions: ComputedRef<CardAction[]> = computed(() => {
    const { id, item: kind } = item();
    const all: (CardAction | false)[] = [
      { label: 'Once more, with its masks', run: () => duplicate(true) },
      { label: 'Once more, without its masks', run: () => duplicate(false) },
      canJoin.value && { label: 'Group with the card below', run: join },
      group.value !== undefined && {
        label: 'Out of its group',
        run: () => session.dispatch(placeItem({ id, ...aboveGroup(group.value?.id as GroupId) })),
      },
      kind === 'group' && {
        label: 'Dissolve the group',
        run: () => session.dispatch(dissolveGroup({ id: id as GroupId })),
      },
      kind === 'adjustment' &&
        owner.value !== undefined && {
          label: 'Let it change all below',
          run: () => session.dispatch(setAdjusted({ id, of: null })),
        },
      kind === 'adjustment' &&
        !owner.value &&
        place.value > 0 &&
        siblings.value[place.value - 1].item !== 'adjustment' && {
          label: `Only for ${itemLabel(session.scene, siblings.value[place.value - 1])}`,
          run: () => session.dispatch(setAdjusted({ id, of: siblings.value[place.value - 1].id })),
        },
      canMove(-1) && { label: 'Down the stack', run: () => move(-1) },
      canMove(1) && { label: 'Up the stack', run: () => move(1) },
      { label: 'Take it out of the stack', run: () => session.dispatch(removeItem({ id })) },
    ];
    return all.filter((each) => each !== false);
  });

  /** Right above a group, beside it. */
  function aboveGroup(of: GroupId) {
    const around = groupAround(session.scene, of);
    const beside = around?.items ?? session.scene.stack;
    const next = beside[beside.findIndex(({ id }) => id === of) + 1];
    return { group: around?.id ?? null, below: next?.id ?? null };
  }

  return { label, owner, group, canJoin, canMove, move, join, leave, holdAlone, set, actions };
}
