/** How an effect or an element goes together with what is there, and what says where it is seen. */
import { circleOfMattes } from '~/core/document/leaders.ts';
import type { ElementEffect, LaneItem, ShownFootage } from '~/core/document/schema.ts';
import { effectById } from '~/core/effects/index.ts';
import { BLENDS, type Blend } from '~/core/math/blend.ts';
import { ChoiceSetting } from '../settings/fields.tsx';
import { chosenKey, footageKey, shownFootage, useFootage } from '../state/footage.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';

type Item = LaneItem | ElementEffect;

const BLEND_OPTIONS = BLENDS.map((id) => ({ id, label: `${id[0].toUpperCase()}${id.slice(1).replace('-', ' ')}` }));

export function BlendChoice({ item }: { item: Item }) {
  const store = useShotStore();
  return (
    <ChoiceSetting<Blend>
      label="Blend"
      about={item.type === 'element' ? 'How its colours go together with those behind it.' : 'How what it makes goes together with what was there.'}
      value={item.blend}
      options={BLEND_OPTIONS}
      onChange={(blend) => store.getState().commit('Set blend', [{ kind: 'assign', id: item.id, values: { blend } }])}
    />
  );
}

const NONE = 'none';
const OF_ITS_OWN = 'of-its-own';

/** Choosing what says where it is seen: a subject, an element, or footage. Its settings come with those of the kind. */
export function MatteChoice({ item }: { item: Item }) {
  const store = useShotStore();
  const document = useShot((s) => s.document);
  const moves = item.type !== 'element' && effectById(item.effect).matteMoves === true;
  const set = (matteOf: string | null, matteFootage: ShownFootage | null) =>
    store.getState().commit('Set matte', [
      { kind: 'assign', id: item.id, values: { matteOf, matteFootage } },
      // Where a subject of another shot is seen is in its alpha.
      ...(matteFootage?.made?.subject ? [{ kind: 'animate' as const, id: item.id, setting: 'settings.matteChannel', value: { constant: 'alpha' } }] : []),
    ]);
  const footage = useFootage('This plate');
  const elements = document.lanes.filter((l) => l.type === 'element' && !circleOfMattes(document, item.id, l.id));
  const value = item.matteFootage ? `footage ${footageKey(item.matteFootage)}` : (item.matteOf ?? NONE);
  const options = [
    { id: NONE, label: moves ? 'None: by noise' : 'None: all of it' },
    ...document.cast.map((s) => ({ id: s.id, label: `Subject: ${s.name}` })),
    ...elements.map((l) => ({ id: l.id, label: `Element: ${l.type === 'element' ? l.name : ''}` })),
    ...footage.map((f) => ({ id: `footage ${chosenKey(f)}`, label: `Footage: ${f.name}` })),
  ];
  const known = options.some((o) => o.id === value);
  return (
    <ChoiceSetting
      label={moves ? 'Moved by' : 'Matte'}
      about={
        moves
          ? 'What is brighter or darker than grey moves pixels this or that way.'
          : 'Where it is seen, or how strongly: by the luma, the alpha or a channel of something else.'
      }
      value={known ? value : OF_ITS_OWN}
      options={known ? options : [{ id: OF_ITS_OWN, label: 'Footage of its own' }, ...options]}
      onChange={(id) => {
        const chosen = footage.find((f) => `footage ${chosenKey(f)}` === id);
        if (chosen) set(null, shownFootage(chosen));
        else if (id !== OF_ITS_OWN) set(id === NONE ? null : id, null);
      }}
    />
  );
}
