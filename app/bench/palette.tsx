/** All that can be done, opened or gone to, by name: one field and a list. */
import { Command as List } from 'cmdk';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { nameOf } from '~/core/compose/lane-items.ts';
import { EFFECTS } from '~/core/effects/index.ts';
import { newLaneEffect } from '~/core/effects/lane-effect.ts';
import { ELEMENTS, newElement } from '~/core/elements/index.ts';
import { GUIDES } from '~/core/guides/guides.ts';
import type { BenchId } from '../state/benches.ts';
import { startGuide } from '../state/guide.ts';
import { useKeyMap, wordsOf } from '../state/key-map.ts';
import { shotAddress } from '../state/left-off.ts';
import { SHORTCUTS } from '../state/shortcuts.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useToBench } from '../state/to-bench.ts';
import { currentSubject, useWorkbench } from '../state/workbench-context.tsx';
import { matches } from '../ui/matches.ts';
import type { Command } from './commands.ts';

interface Entry {
  id: string;
  name: string;
  keys?: string;
  /** Why it cannot be used now. */
  why?: string | null;
  run(): void;
}

const ROW =
  'flex items-center gap-3 rounded px-2 py-1.5 text-sm data-[selected=true]:bg-raised data-[selected=true]:text-white aria-disabled:text-quiet [&[aria-disabled=true]]:cursor-not-allowed';
const HEADING =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:font-semibold [&_[cmdk-group-heading]]:text-quiet [&_[cmdk-group-heading]]:text-xs';

const GO_TO_FRAME = 'go-to-frame';

/** How well an entry fits what is typed. */
// The frame is there only while a number is typed, and then it is what is meant.
const fits = (id: string, search: string, keywords: string[] = []): number => (id === GO_TO_FRAME ? 1 : matches(keywords.join(' '), search));

/** Fields of the settings panel that is open, by their labels. */
function settingsInSight(): Entry[] {
  const seen = new Set<string>();
  return [...document.querySelectorAll<HTMLLabelElement>('[data-settings] label[for]')].flatMap((label, i) => {
    const name = label.textContent?.trim() ?? '';
    const field = document.getElementById(label.htmlFor);
    if (!name || !field || seen.has(name)) return [];
    seen.add(name);
    return [
      {
        id: `setting-${i}`,
        name: `Set ${name.toLowerCase()}`,
        run: () => {
          field.scrollIntoView({ block: 'center' });
          field.focus();
        },
      },
    ];
  });
}

export function Palette({ open, onOpenChange, commands }: { open: boolean; onOpenChange(open: boolean): void; commands: readonly Command[] }) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="-translate-x-1/2 fixed top-[12vh] left-1/2 z-50 w-[min(40rem,94vw)] overflow-hidden rounded-lg border border-line bg-panel shadow-2xl"
          // What is run may put the focus elsewhere.
          onCloseAutoFocus={(e) => e.preventDefault()}
        >
          <Dialog.Title className="sr-only">Commands</Dialog.Title>
          {open && <Entries commands={commands} onClose={() => onOpenChange(false)} />}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Entries({ commands, onClose }: { commands: readonly Command[]; onClose(): void }) {
  const store = useShotStore();
  const { plate, view, otherShots } = useWorkbench();
  const navigate = useNavigate();
  const toBench = useToBench();
  const keyMap = useKeyMap();
  const [query, setQuery] = useState('');
  // As it was when the list was opened; nothing changes under it.
  const [groups] = useState(() => {
    const { document } = store.getState();
    const select = (id: string, bench: BenchId) => {
      // What is isolated can be selected beside its edge as well.
      if (!(bench === 'isolate' && view.getState().bench === 'edge')) toBench(bench);
      store.getState().select(id);
    };
    const subject = currentSubject(store.getState());
    const add = (record: ReturnType<typeof newElement> | ReturnType<typeof newLaneEffect>, label: string) => {
      if (!store.getState().commit(`Add ${label.toLowerCase()}`, [{ kind: 'insert', parent: 'lanes', index: document.lanes.length, record }])) return;
      select(record.id, 'compose');
    };
    const lane = subject ? ('behind' as const) : ('front' as const);
    const where = subject ? `behind ${subject.name}` : 'in front';
    const byId = new Map(commands.map((c) => [c.id, c]));
    const out: { name: string; entries: Entry[] }[] = SHORTCUTS.map(({ group, items }) => ({
      name: group,
      entries: Object.keys(items)
        .filter((id) => id !== 'commands')
        .flatMap((id) => {
          const command = byId.get(id);
          return command ? [{ id, name: command.does, keys: wordsOf(keyMap, id), why: command.whyNot(), run: command.run }] : [];
        }),
    }));
    out.push({ name: 'Settings of what is selected', entries: settingsInSight() });
    out.push({
      name: 'In this shot',
      entries: [
        ...document.cast.flatMap((s) => [
          { id: s.id, name: `Subject ${s.name}`, run: () => select(s.id, 'isolate') },
          ...s.parts.map((p) => ({ id: p.id, name: `Part ${p.name} of ${s.name}`, run: () => select(p.id, 'isolate') })),
        ]),
        ...document.tracks.map((t) => ({ id: t.id, name: `Track ${t.name}`, run: () => select(t.id, 'isolate') })),
        ...document.lanes.map((l) => ({ id: l.id, name: `${nameOf(l)} in the lanes`, run: () => select(l.id, 'compose') })),
        ...document.markers.map((m) => ({ id: m.id, name: `Marker ${m.name}`, run: () => view.getState().goTo(m.range.first) })),
      ],
    });
    out.push({
      name: 'Add',
      entries: [
        ...ELEMENTS.map((e) => ({
          id: `add-${e.id}`,
          name: `Add ${e.label.toLowerCase()} ${where}`,
          run: () => add(newElement(document, crypto.randomUUID(), lane, subject?.id ?? null, e.id), e.label),
        })),
        ...EFFECTS.map((e) => ({
          id: `add-${e.id}`,
          name: `Add ${e.label.toLowerCase()} ${where}`,
          run: () => add(newLaneEffect(crypto.randomUUID(), lane, subject?.id ?? null, e.id, document.plate), e.label),
        })),
      ],
    });
    out.push({ name: 'Guides', entries: GUIDES.map((g) => ({ id: `guide-${g.id}`, name: `Guide: ${g.title}`, run: () => startGuide(g.id) })) });
    out.push({
      name: 'Elsewhere',
      entries: [
        ...otherShots.map((s) => ({ id: `shot-${s.id}`, name: `Shot ${s.name}`, run: () => navigate(shotAddress(s.id)) })),
        { id: 'productions', name: 'All productions', run: () => navigate('/') },
        { id: 'shortcuts', name: 'Keyboard shortcuts: see and change them', run: () => navigate('/shortcuts') },
        { id: 'help-all', name: 'Help: all pages', run: () => void window.open('/help', 'mottrel-help') },
      ],
    });
    return out.filter((g) => g.entries.length > 0);
  });
  const run = (entry: Entry) => {
    onClose();
    // After the dialog has let go of the focus.
    setTimeout(entry.run);
  };
  const number = /^\s*(?:frame\s+)?(\d+)\s*$/i.exec(query)?.[1];
  const frame = number === undefined ? null : Number(number) - plate.firstNumber;
  const outside = frame !== null && (frame < 0 || frame >= plate.frames);
  return (
    <List label="Commands" loop filter={fits}>
      <List.Input
        value={query}
        onValueChange={setQuery}
        placeholder="A command, a setting, a subject, a frame number, a shot …"
        className="h-11 w-full border-line border-b bg-transparent px-4 text-base outline-none placeholder:text-quiet"
      />
      <List.List className="max-h-[55vh] overflow-auto p-1">
        <List.Empty className="px-3 py-4 text-quiet text-sm">Nothing is called that. Try another word.</List.Empty>
        {frame !== null && (
          <List.Item
            value={GO_TO_FRAME}
            disabled={outside}
            className={ROW}
            onSelect={() => run({ id: 'frame', name: '', run: () => view.getState().goTo(frame) })}
          >
            <span className="flex-1">Go to frame {number}</span>
            {outside && (
              <span className="text-quiet text-xs">
                this shot has frames {plate.firstNumber} to {plate.frames - 1 + plate.firstNumber}
              </span>
            )}
          </List.Item>
        )}
        {groups.map(({ name, entries }) => (
          <List.Group key={name} heading={name} className={HEADING}>
            {entries.map((entry) => (
              <List.Item
                key={entry.id}
                value={entry.id}
                keywords={[entry.name, name]}
                disabled={Boolean(entry.why)}
                className={ROW}
                onSelect={() => run(entry)}
              >
                <span className="min-w-0 flex-1 truncate">{entry.name}</span>
                {entry.why && <span className="max-w-[55%] truncate text-quiet text-xs">{entry.why}</span>}
                {entry.keys && <kbd className="shrink-0 rounded bg-well px-1.5 font-mono text-2xs">{entry.keys}</kbd>}
              </List.Item>
            ))}
          </List.Group>
        ))}
      </List.List>
    </List>
  );
}
