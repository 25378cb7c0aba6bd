/** Effects of one element: they change it alone, before it is laid into its lane. */

import { ArrowDown, ArrowUp, Trash2 } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { isKnown, nameOf } from '~/core/compose/lane-items.ts';
import type { Edit } from '~/core/document/edits.ts';
import type { Element, ElementEffect } from '~/core/document/schema.ts';
import { EFFECTS } from '~/core/effects/index.ts';
import { newElementEffect } from '~/core/effects/lane-effect.ts';
import { ShareSetting } from '../settings/fields.tsx';
import { MeasureFields } from '../settings/measure-fields.tsx';
import { useShotStore } from '../state/shot-context.tsx';
import { IconButton } from '../ui/controls.tsx';
import { EyeSwitch } from '../ui/eye-switch.tsx';
import { BlendChoice, MatteChoice } from './blend-and-matte.tsx';
import { DescribedSettings } from './described-settings.tsx';
import { Gallery } from './gallery.tsx';

const GROUPS = [{ title: 'Effects', kinds: EFFECTS }];

export function ElementEffects({ element }: { element: Element }) {
  const store = useShotStore();
  /** The one that was added last: it is brought into sight, since the list is at the end of a long panel. */
  const [added, setAdded] = useState<string | null>(null);
  const add = (effect: string, label: string) => {
    const { document, commit } = store.getState();
    const record = newElementEffect(crypto.randomUUID(), effect, document.plate);
    if (commit(`Add ${label.toLowerCase()} to ${element.name}`.slice(0, 120), [{ kind: 'insert', parent: element.id, index: element.effects.length, record }]))
      setAdded(record.id);
  };
  return (
    <section aria-label={`Effects of ${element.name}`} className="mt-2 border-line border-t pt-1">
      <div className="flex h-8 items-center gap-2 pr-1 pl-3">
        <h3 className="min-w-0 flex-1 truncate text-sm">
          <span className="font-medium">Its effects</span>
          <span className="ml-2 text-quiet text-xs">change this element alone</span>
        </h3>
        <Gallery title={`Add an effect to ${element.name}`} groups={GROUPS} onChoose={({ id, label }) => add(id, label)} />
      </div>
      <ol>
        {element.effects
          .map((own, i) => <OwnEffect key={own.id} own={own} isNew={own.id === added} index={i} last={i === element.effects.length - 1} />)
          // As in the lanes: what is higher changes what is lower.
          .reverse()}
      </ol>
    </section>
  );
}

function OwnEffect({ own, isNew, index, last }: { own: ElementEffect; isNew: boolean; index: number; last: boolean }) {
  const store = useShotStore();
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (isNew) row.current?.scrollIntoView({ block: 'nearest' });
  }, [isNew]);
  const name = nameOf(own);
  const known = isKnown(own);
  const change = (label: string, edit: Edit) => store.getState().commit(label, [edit]);
  const move = (by: 1 | -1) => change('Change order', { kind: 'move', id: own.id, index: index + by });
  return (
    <li ref={row} className={own.enabled && known ? '' : 'text-quiet'}>
      <div className="flex h-8 items-center pr-1 pl-3 text-sm">
        <span className="min-w-0 flex-1 truncate">{name}</span>
        <IconButton label={`Move ${name} up`} about="It changes what those below it have made." disabled={last} className="!size-6" onClick={() => move(1)}>
          <ArrowUp />
        </IconButton>
        <IconButton
          label={`Move ${name} down`}
          about="It changes the element before those above it."
          disabled={index === 0}
          className="!size-6"
          onClick={() => move(-1)}
        >
          <ArrowDown />
        </IconButton>
        <IconButton
          label={`Delete ${name}`}
          about="Undo brings it back."
          className="!size-6"
          onClick={() => change(`Delete ${name.toLowerCase()}`.slice(0, 120), { kind: 'remove', id: own.id })}
        >
          <Trash2 />
        </IconButton>
        <EyeSwitch
          label={own.enabled ? `Switch ${name} off` : `Switch ${name} on`}
          about="Switched off, it changes nothing."
          on={own.enabled}
          known={known}
          onSwitch={() => change(own.enabled ? 'Switch effect off' : 'Switch effect on', { kind: 'assign', id: own.id, values: { enabled: !own.enabled } })}
        />
      </div>
      <ShareSetting record={own.id} setting="mix" value={own.mix} label="Mix" about="How strong the effect is; 0 leaves the element as it was." />
      <BlendChoice item={own} />
      <MatteChoice item={own} />
      <MeasureFields item={own} />
      <DescribedSettings item={own} />
    </li>
  );
}
