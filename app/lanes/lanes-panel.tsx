/**
 * The lanes, near to far, and in each what is in it, near to far: what is higher covers what is lower. What is put into a lane is confined
 * there with no other step.
 */

import { ArrowDown, ArrowUp, Copy, SquareSplitHorizontal, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { aimOf, hasPlace, isKnown, nameOf } from '~/core/compose/lane-items.ts';
import { isIn } from '~/core/compose/lanes.ts';
import { removeEdits } from '~/core/document/leaders.ts';
import { copyOf } from '~/core/document/records.ts';
import type { Element, LaneItem } from '~/core/document/schema.ts';
import { keptStart } from '~/core/starts/kept.ts';
import { keepInLibrary } from '../state/library.ts';
import { useRemark, useRemarks } from '../state/remarks.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button, EmptyNote, IconButton, PanelTitle } from '../ui/controls.tsx';
import { EyeSwitch } from '../ui/eye-switch.tsx';
import { NameDialog } from '../ui/name-dialog.tsx';
import { type Named, RenameDialog } from '../ui/rename-dialog.tsx';
import { MoreMenu, RowMenu } from '../ui/row-menu.tsx';
import { type Addable, GROUPS } from './addable.ts';
import { CopyItems, type ToCopy } from './copy-items.tsx';
import { Gallery } from './gallery.tsx';
import { type ListedLane, laneName, listedLanes } from './lane-words.ts';
import { StartSteps, Starts } from './starts.tsx';
import { WholePicture } from './whole-picture.tsx';

export function LanesPanel() {
  const cast = useShot((s) => s.document.cast);
  const [naming, setNaming] = useState<Named | null>(null);
  const [copying, setCopying] = useState<ToCopy | null>(null);
  const [keeping, setKeeping] = useState<LaneItem[] | null>(null);
  const store = useShotStore();
  const { productionId } = useWorkbench();
  const keep = (name: string, items: LaneItem[]) =>
    void keepInLibrary(productionId, { kind: 'start', name, content: keptStart(store.getState().document, items) }).then(
      () => toast.success(`${name} is among your starts, for all productions.`),
      (error: Error) => toast.error(error.message),
    );
  return (
    <section aria-label="Lanes" className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle actions={<Starts />}>Lanes, near to far</PanelTitle>
      <LeftOut />
      <StartSteps />
      <div className="min-h-0 flex-1 overflow-auto">
        {listedLanes({ cast }).map((lane) => (
          <LaneSection key={lane.key} lane={lane} onRename={(id, name) => setNaming({ id, name })} onCopy={setCopying} onKeep={setKeeping} />
        ))}
        {cast.length === 0 && <EmptyNote>With a subject in the cast there are lanes inside and behind it: isolate one first.</EmptyNote>}
        <WholePicture />
      </div>
      <RenameDialog of={naming} onClose={() => setNaming(null)} />
      <CopyItems copy={copying} onClose={() => setCopying(null)} />
      <NameDialog
        title="Keep as a start"
        label="Name"
        confirm="Keep it"
        open={keeping !== null}
        onOpenChange={() => setKeeping(null)}
        onName={(name) => keeping && keep(name, keeping)}
      />
    </section>
  );
}

/** Showing the picture before and after items; the document does not change. */
function useLeftOut(): { left: readonly string[]; toggle(ids: readonly string[], out: boolean): void } {
  const { view } = useWorkbench();
  const left = useView((s) => s.without);
  return {
    left,
    toggle(ids, out) {
      const { without, setView, set } = view.getState();
      if (out) setView('composed');
      set({ without: out ? [...new Set([...without, ...ids])] : without.filter((id) => !ids.includes(id)) });
    },
  };
}

/** Says that the picture is shown without something, as long as it is. */
function LeftOut() {
  const lanes = useShot((s) => s.document.lanes);
  const { left, toggle } = useLeftOut();
  const out = lanes.filter((l) => left.includes(l.id));
  if (out.length === 0) return null;
  return (
    <p role="status" className="flex items-center gap-2 border-line border-b bg-raised px-3 py-1 text-xs">
      <span className="min-w-0 flex-1">
        Shown without {out.length === 1 ? nameOf(out[0]) : `${out.length} things`}; outputs have {out.length === 1 ? 'it' : 'them'}.
      </span>
      <Button
        className="!h-6 text-xs"
        onClick={() =>
          toggle(
            out.map((l) => l.id),
            false,
          )
        }
      >
        Show {out.length === 1 ? 'it' : 'them'}
      </Button>
    </p>
  );
}

type Rename = (id: string, name: string) => void;

type CopyOf = (copy: ToCopy) => void;

function LaneSection({ lane, onRename, onCopy, onKeep }: { lane: ListedLane; onRename: Rename; onCopy: CopyOf; onKeep(items: LaneItem[]): void }) {
  const store = useShotStore();
  const { view } = useWorkbench();
  const lanes = useShot((s) => s.document.lanes);
  // What was put in last is nearest, and so at the top.
  const items = lanes.filter((item) => isIn(item, lane)).reverse();
  const { left, toggle } = useLeftOut();
  const ids = items.map((i) => i.id);
  const isOut = ids.length > 0 && ids.every((id) => left.includes(id));
  // Of a subject whose curve is open, or whose Peel has no stroke: said once, on its own lane.
  const remarks = useRemarks();
  const subject = useShot((s) => (lane.lane === 'inside' ? s.document.cast.find((c) => c.id === lane.subject) : undefined));
  const about = remarks.find((r) => subject?.parts.some((p) => p.id === r.id));
  const add = (kind: Addable) => {
    const { document } = store.getState();
    const record = kind.make(document, () => crypto.randomUUID(), lane.lane, lane.subject);
    const { id: newId } = record;
    const { label } = kind;
    if (!store.getState().commit(`Add ${label.toLowerCase()}`, [{ kind: 'insert', parent: 'lanes', index: lanes.length, record }])) return;
    store.getState().select(newId);
    view.getState().setView('composed');
    if (hasPlace(record) || aimOf(record)) view.getState().setTool('place');
  };
  return (
    <div className="border-line border-b">
      <div className="flex h-8 items-center gap-2 pr-1 pl-3">
        <h3 className="min-w-0 flex-1 truncate text-sm" title={`${laneName(lane)}: ${lane.about}`}>
          <span className="font-medium">{lane.title}</span> {lane.of}
          <span className="ml-2 text-quiet text-xs">{lane.about}</span>
        </h3>
        {items.length > 0 && (
          <MoreMenu
            name={laneName(lane)}
            acts={[
              { label: isOut ? 'Show what is in this lane again' : 'Show the picture without this lane', act: () => toggle(ids, !isOut) },
              { label: 'Keep what is in this lane as a start …', act: () => onKeep([...items].reverse()) },
              { label: 'Copy what is in this lane …', act: () => onCopy({ what: `what is in ${laneName(lane)}`, items: [...items].reverse() }) },
              ...(lane.subject
                ? [
                    {
                      label: `Keep all that is done with ${lane.of} as a start …`,
                      act: () => onKeep(lanes.filter((l) => l.subject === lane.subject)),
                    },
                    {
                      label: `Copy all that is done with ${lane.of} …`,
                      act: () => onCopy({ what: `all that is done with ${lane.of}`, items: lanes.filter((l) => l.subject === lane.subject) }),
                    },
                  ]
                : []),
            ]}
          />
        )}
        <Gallery
          lane={lane.key}
          title={`Add ${lane.of ? `${lane.title.toLowerCase()} ${lane.of}` : `to ${lane.title.toLowerCase()}`}`}
          groups={GROUPS}
          onChoose={add}
        />
      </div>
      {about && (
        <p className="px-3 pb-1 text-doubt text-xs">
          {about.name}: {about.words}.
        </p>
      )}
      {items.length > 0 && (
        <ol className="pb-1">
          {items.map((item, i) => (
            <ItemRow key={item.id} item={item} above={items[i - 1]} below={items[i + 1]} onRename={onRename} onCopy={onCopy} />
          ))}
        </ol>
      )}
    </div>
  );
}

function ItemRow({ item, above, below, onRename, onCopy }: { item: LaneItem; above?: LaneItem; below?: LaneItem; onRename: Rename; onCopy: CopyOf }) {
  const store = useShotStore();
  const { view } = useWorkbench();
  const selected = useShot((s) => s.selected === item.id);
  const lanes = useShot((s) => s.document.lanes);
  const name = nameOf(item);
  const remark = useRemark(item.id);
  const { left, toggle } = useLeftOut();
  const isOut = left.includes(item.id);
  const moveTo = (other: LaneItem) =>
    store.getState().commit('Change order', [{ kind: 'move', id: item.id, index: lanes.findIndex((l) => l.id === other.id) }]);
  const remove = () => store.getState().commit(`Delete ${item.type}`, removeEdits(store.getState().document, item.id));
  const duplicate = (element: Element) => {
    const record = { ...copyOf(element, () => crypto.randomUUID()), name: `${element.name} copy`.slice(0, 120) };
    const index = lanes.findIndex((l) => l.id === item.id) + 1;
    if (store.getState().commit('Duplicate element', [{ kind: 'insert', parent: 'lanes', index, record }])) store.getState().select(record.id);
  };
  const select = () => {
    store.getState().select(item.id);
    if (hasPlace(item) || aimOf(item)) view.getState().setTool('place');
  };
  return (
    <li
      className={`group mx-1 flex min-h-8 items-center rounded pl-3 text-sm ${selected ? 'bg-raised' : 'hover:bg-raised/60'} ${item.enabled && isKnown(item) ? '' : 'text-quiet'}`}
    >
      <button type="button" aria-pressed={selected} className="min-w-0 flex-1 text-left" onClick={select}>
        <span className="block truncate">{name}</span>
        {remark && <span className="block pb-1 text-doubt text-xs">{remark}</span>}
      </button>
      <span className="flex w-0 overflow-hidden focus-within:w-auto focus-within:overflow-visible group-hover:w-auto group-hover:overflow-visible">
        <IconButton
          label={`Move ${name} up`}
          about="It covers, or changes, what is below it."
          disabled={!above}
          className="!size-6"
          onClick={() => above && moveTo(above)}
        >
          <ArrowUp />
        </IconButton>
        <IconButton
          label={`Move ${name} down`}
          about="What is above it covers it, or changes it."
          disabled={!below}
          className="!size-6"
          onClick={() => below && moveTo(below)}
        >
          <ArrowDown />
        </IconButton>
        <IconButton
          label={isOut ? `Show ${name} again` : `Show without ${name}`}
          about="Before and after: the shot stays as it is, and outputs have it."
          pressed={isOut}
          className="!size-6"
          onClick={() => toggle([item.id], !isOut)}
        >
          <SquareSplitHorizontal />
        </IconButton>
        {item.type === 'effect' && (
          <IconButton
            label={`Copy ${name} elsewhere`}
            about="To another subject, or to other shots."
            className="!size-6"
            onClick={() => onCopy({ what: name, items: [item] })}
          >
            <Copy />
          </IconButton>
        )}
        {item.type === 'effect' && (
          <IconButton label={`Delete ${name}`} about="Undo brings it back." className="!size-6" onClick={remove}>
            <Trash2 />
          </IconButton>
        )}
      </span>
      {item.type === 'element' && (
        <RowMenu
          quiet
          name={name}
          onRename={() => onRename(item.id, name)}
          onDelete={remove}
          more={[
            { label: 'Duplicate', act: () => duplicate(item) },
            { label: 'Copy elsewhere …', act: () => onCopy({ what: name, items: [item] }) },
          ]}
        />
      )}
      <EyeSwitch
        label={item.enabled ? `Switch ${name} off` : `Switch ${name} on`}
        about="Switched off, it is not in the picture."
        on={item.enabled}
        known={isKnown(item)}
        onSwitch={() =>
          store.getState().commit(`Switch ${item.type} ${item.enabled ? 'off' : 'on'}`, [{ kind: 'assign', id: item.id, values: { enabled: !item.enabled } }])
        }
      />
    </li>
  );
}
