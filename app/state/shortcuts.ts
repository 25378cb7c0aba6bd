/** All commands of the workbench that have keys: one list for what they do, for the command list, and for the page that changes the keys. */
import { TOOLS, type ToolId } from '../tools/index.ts';
import type { ToolDescription } from '../tools/tool.ts';
import { BENCHES, type BenchId } from './benches.ts';

export interface Shortcut {
  /** As it comes, in the words of tinykeys; several mean the same. */
  bind: string[];
  does: string;
}

const benches = Object.fromEntries(BENCHES.map(({ id, label }, i) => [`${id}Bench`, { bind: [`Alt+${i + 1}`], does: `Bench: ${label}` }])) as Record<
  `${BenchId}Bench`,
  Shortcut
>;
const tools = Object.fromEntries(TOOLS.map(({ id, bind, does }) => [id, { bind, does }])) as Record<ToolId, Shortcut>;

const frames = {
  next: { bind: ['.', 'PageDown'], does: 'Next frame' },
  previous: { bind: [',', 'PageUp'], does: 'Frame before' },
  keyBefore: { bind: ['['], does: 'Key before' },
  keyAfter: { bind: [']'], does: 'Key after' },
  first: { bind: ['Home'], does: 'First frame of the range' },
  last: { bind: ['End'], does: 'Last frame of the range' },
  play: { bind: ['Space'], does: 'Play, pause' },
  playBack: { bind: ['Shift+Space'], does: 'Play backwards, pause' },
  begin: { bind: ['b'], does: 'The range begins here' },
  finish: { bind: ['n'], does: 'The range ends here' },
  loop: { bind: ['l'], does: 'Loop a range, or all frames again' },
} satisfies Record<string, Shortcut>;

const views = {
  plate: { bind: ['1'], does: 'Plate' },
  tint: { bind: ['2'], does: 'Tint' },
  matte: { bind: ['3'], does: 'Matte' },
  cutout: { bind: ['4'], does: 'Cut-out' },
  outline: { bind: ['0'], does: 'Outline' },
  composed: { bind: ['5'], does: 'Composed' },
  outlines: { bind: ['o'], does: 'Show or hide the curves' },
  fit: { bind: ['f'], does: 'Fit the plate in the viewer' },
  actual: { bind: ['Shift+F'], does: 'One plate pixel on one screen pixel' },
} satisfies Record<string, Shortcut>;

const about = {
  commands: { bind: ['$mod+k'], does: 'All commands, settings, subjects and shots, by name' },
  help: { bind: ['Shift+?', '?'], does: 'Help on what is selected or in hand' },
  nextStep: { bind: ['Alt+Enter'], does: 'Do the next step that is offered' },
  ...benches,
} satisfies Record<string, Shortcut>;

const work = {
  undo: { bind: ['$mod+z'], does: 'Undo' },
  redo: { bind: ['$mod+Shift+z', '$mod+Shift+Z'], does: 'Redo' },
  ...tools,
  frame: { bind: ['g'], does: 'Show or hide the transform frame' },
  snap: { bind: ['s'], does: 'Snap on or off' },
  magnify: { bind: ['m'], does: 'Magnifier at the pointer, or in a drag alone' },
  numbers: { bind: ['u'], does: 'Numbers of points on or off' },
  onion: { bind: ['y'], does: 'Onion skin on or off' },
  reach: { bind: ['r'], does: 'Next Reach: between keys, marked range, all frames, this frame' },
  reachFrame: { bind: ['6'], does: 'Reach: this frame' },
  reachKeys: { bind: ['7'], does: 'Reach: between keys' },
  reachRange: { bind: ['8'], does: 'Reach: marked range' },
  reachAll: { bind: ['9'], does: 'Reach: all frames' },
  key: { bind: ['k'], does: 'Key here what has keys: of the selected part or item, or of everything' },
  keyAll: { bind: ['Alt+k'], does: 'Key all settings of the selected part or item, or of the edge, here' },
  unkey: { bind: ['Shift+K'], does: 'Take the keys on this frame away' },
  invert: { bind: ['i'], does: 'Invert the selected part' },
  approve: { bind: ['v'], does: 'Approve the frame or the marked range, or release it' },
  carryBoth: { bind: ['$mod+Enter'], does: 'Carry the Peel through the marked range, or all frames' },
  nextDoubt: { bind: ['Shift+D'], does: 'Next doubtful frame' },
  review: { bind: ['Shift+R'], does: 'Review doubtful frames, worst first: begin, next' },
  curves: { bind: ['c'], does: 'Curves over time: show or hide' },
} satisfies Record<string, Shortcut>;

/** Every command that has keys, by name. */
export const SHORTCUT = { ...frames, ...views, ...about, ...work };

export type CommandId = keyof typeof SHORTCUT;

export const SHORTCUTS: { group: string; items: Partial<Record<CommandId, Shortcut>> }[] = [
  { group: 'Frames', items: frames },
  { group: 'View', items: views },
  { group: 'Getting about', items: about },
  { group: 'Work', items: work },
];

export const isCommand = (id: string): id is CommandId => Object.hasOwn(SHORTCUT, id);

/** What the viewer does with keys while it has the focus; bound by its tools. */
export const VIEWER_KEYS: (readonly [string, string])[] = [
  ['Arrow keys', 'Move the cross-hair (drawing) or the selected points by 1 px; Shift 10 px, Alt 0.1 px'],
  ['Backspace', 'Drawing: take the last point back; else: delete the selected points or curve'],
  ['P, Shift P', 'Next, previous point'],
  ['A, Shift A', 'All points of the curve, of all curves'],
  ['T', 'Corner, smooth, broken'],
  ['X', 'New point after the selected one'],
  ['Drag, Alt drag', 'On the picture: select points in a box, in a lasso; Shift adds'],
  ['Alt drag', 'On a handle: turn it alone; on a side of the frame: skew'],
  ...TOOLS.flatMap((tool: ToolDescription) => tool.keys ?? []),
  ['Space, drag', 'Move the picture'],
  ['Wheel', 'Zoom at the pointer'],
  ['Escape', 'Give up what is in progress; let go of the selection'],
];
