/** Which keys call which command: as they come, or as the artist has set them, kept in the browser. */
import { z } from 'zod';
import { create } from 'zustand';
import { keepIn, keptIn } from './browser-kept.ts';
import { type CommandId, isCommand, SHORTCUT } from './shortcuts.ts';

const STORED = 'mottrel.keys';
const FORMAT = 'mottrel-keys';

/** Of commands whose keys were changed: their keys now; none where it has none. */
export type KeyMap = Readonly<Record<string, readonly string[]>>;

const mapSchema = z.record(z.string().max(40), z.array(z.string().min(1).max(40)).max(4));
const fileSchema = z.object({ format: z.literal(FORMAT), version: z.literal(1), keys: mapSchema });

const useStore = create<{ own: KeyMap; open: boolean }>(() => ({ own: {}, open: false }));

/** Reads what the browser has kept; called once the page runs in one. */
export function openKeyMap(): void {
  if (useStore.getState().open) return;
  useStore.setState({ own: known(keptIn(STORED, mapSchema, {})), open: true });
}

/** Commands that are no more are left out. */
const known = (map: KeyMap): KeyMap => Object.fromEntries(Object.entries(map).filter(([id]) => isCommand(id)));

function keep(own: KeyMap): void {
  useStore.setState({ own });
  keepIn(STORED, own);
}

export const useKeyMap = (): KeyMap => useStore((s) => s.own);

export const bindOf = (own: KeyMap, id: string): readonly string[] => own[id] ?? (isCommand(id) ? SHORTCUT[id].bind : []);

/** The command that some keys call already; null where none does. */
export function clashOf(own: KeyMap, id: string, keys: string): CommandId | null {
  const same = keys.toLowerCase();
  return (Object.keys(SHORTCUT) as CommandId[]).find((other) => other !== id && bindOf(own, other).some((k) => k.toLowerCase() === same)) ?? null;
}

/** Gives a command other keys; the command that had them loses them. */
export function setKeys(id: string, keys: string): void {
  const { own } = useStore.getState();
  const other = clashOf(own, id, keys);
  const without = other ? { [other]: bindOf(own, other).filter((k) => k.toLowerCase() !== keys.toLowerCase()) } : {};
  keep({ ...own, ...without, [id]: [keys] });
}

export const clearKeys = (id: string): void => keep({ ...useStore.getState().own, [id]: [] });

/** As it comes again; of all commands where none is named. */
export function resetKeys(id?: string): void {
  const { [id ?? '']: _gone, ...rest } = useStore.getState().own;
  keep(id ? rest : {});
}

export const keysFile = (): string => JSON.stringify({ format: FORMAT, version: 1, keys: useStore.getState().own }, null, 2);

/** Takes keys from a file. Throws with words where it is not one. */
export function takeKeysFile(text: string): void {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Error('This is not a JSON file.');
  }
  const parsed = fileSchema.safeParse(value);
  if (!parsed.success) throw new Error('This is not a file of shortcuts that Mottrel has written.');
  keep(known(parsed.data.keys));
}

const NAMES: Record<string, string> = {
  $mod: 'Ctrl',
  PageDown: 'Page Down',
  PageUp: 'Page Up',
  ArrowUp: 'Up',
  ArrowDown: 'Down',
  ArrowLeft: 'Left',
  ArrowRight: 'Right',
};

/** Keys as people read them: "Ctrl Shift Z". */
export const keysWords = (bind: string): string =>
  bind
    .replace(/^Shift\+\?$/, '?')
    .split(/(?<=.)\+/)
    .map((key) => NAMES[key] ?? (key.length === 1 ? key.toUpperCase() : key))
    .join(' ');

/** All keys of a command in words; nothing where it has none. */
export const wordsOf = (own: KeyMap, id: string): string => [...new Set(bindOf(own, id).map(keysWords))].join(' or ');

/** The first keys of a command in words, for a tooltip. */
export function useKeysOf(id: string | undefined): string | undefined {
  const own = useKeyMap();
  const first = id ? bindOf(own, id)[0] : undefined;
  return first && keysWords(first);
}

/** The keys that an event tells, in the words of tinykeys; null while only modifiers are held. */
export function pressedKeys({
  key,
  code,
  ctrlKey,
  metaKey,
  altKey,
  shiftKey,
}: Pick<KeyboardEvent, 'key' | 'code' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>): string | null {
  if (['Control', 'Meta', 'Alt', 'Shift', 'AltGraph', 'CapsLock', 'Dead'].includes(key)) return null;
  const letter = key.length === 1 && key.toLowerCase() !== key.toUpperCase();
  const name = key === ' ' ? code : letter ? (shiftKey ? key.toUpperCase() : key.toLowerCase()) : key;
  // Signs are told with Shift where the keyboard needs it, since they are bound that way.
  return [...(ctrlKey || metaKey ? ['$mod'] : []), ...(altKey ? ['Alt'] : []), ...(shiftKey ? ['Shift'] : []), name].join('+');
}
