/** All commands of the workbench that have keys: one list for what they do, for the command list, and for the page that changes the keys. */
export interface Shortcut {
  /** As it comes, in the words of tinykeys; several mean the same. */
  bind: string[];
  does: string;
}

export const SHORTCUTS: { group: string; items: Record<string, Shortcut> }[] = [
  {
    group: 'Frames',
    items: {
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
    },
  },
  {
    group: 'View',
    items: {
      plate: { bind: ['1'], does: 'Plate' },
      tint: { bind: ['2'], does: 'Tint' },
      matte: { bind: ['3'], does: 'Matte' },
      cutout: { bind: ['4'], does: 'Cut-out' },
      outline: { bind: ['0'], does: 'Outline' },
      composed: { bind: ['5'], does: 'Composed' },
      outlines: { bind: ['o'], does: 'Show or hide the curves' },
      fit: { bind: ['f'], does: 'Fit the plate in the viewer' },
      actual: { bind: ['Shift+F'], does: 'One plate pixel on one screen pixel' },
    },
  },
  {
    group: 'Getting about',
    items: {
      commands: { bind: ['$mod+k'], does: 'All commands, settings, subjects and shots, by name' },
      help: { bind: ['Shift+?', '?'], does: 'Help on what is selected or in hand' },
      nextStep: { bind: ['Alt+Enter'], does: 'Do the next step that is offered' },
      isolateBench: { bind: ['Alt+1'], does: 'Bench: Isolate' },
      edgeBench: { bind: ['Alt+2'], does: 'Bench: Edge' },
      composeBench: { bind: ['Alt+3'], does: 'Bench: Compose' },
      outputBench: { bind: ['Alt+4'], does: 'Bench: Output' },
    },
  },
  {
    group: 'Work',
    items: {
      undo: { bind: ['$mod+z'], does: 'Undo' },
      redo: { bind: ['$mod+Shift+z', '$mod+Shift+Z'], does: 'Redo' },
      edit: { bind: ['e'], does: 'Tool: change curves' },
      brush: { bind: ['z'], does: 'Tool: brush of Peel' },
      draw: { bind: ['d'], does: 'Tool: draw a curve' },
      pan: { bind: ['h'], does: 'Tool: move the picture' },
      hand: { bind: ['j'], does: 'Tool: draw by hand' },
      shape: { bind: ['q'], does: 'Tool: ready-made shapes' },
      feather: { bind: ['w'], does: 'Tool: feather points' },
      mark: { bind: ['Shift+M'], does: 'Tool: points to track' },
      place: { bind: ['Shift+E'], does: 'Tool: place elements' },
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
    },
  },
];

/** Every command that has keys, by name. */
export const SHORTCUT: Record<string, Shortcut> = Object.assign({}, ...SHORTCUTS.map((g) => g.items));

/** What the viewer does with keys while it has the focus; bound by its tools. */
export const VIEWER_KEYS: [string, string][] = [
  ['Arrow keys', 'Move the cross-hair (drawing) or the selected points by 1 px; Shift 10 px, Alt 0.1 px'],
  ['Enter', 'Drawing: set a point at the cross-hair'],
  ['Shift Enter', 'Drawing: close the curve'],
  ['Backspace', 'Drawing: take the last point back; else: delete the selected points or curve'],
  ['P, Shift P', 'Next, previous point'],
  ['A, Shift A', 'All points of the curve, of all curves'],
  ['T', 'Corner, smooth, broken'],
  ['X', 'New point after the selected one'],
  ['Drag, Alt drag', 'On the picture: select points in a box, in a lasso; Shift adds'],
  ['Alt drag', 'On a handle: turn it alone; on a side of the frame: skew'],
  ['−, +, Ctrl drag', 'Brush: smaller, larger; a pen paints as wide as it is pressed'],
  ['X', 'Brush: from keep to drop and back; Alt while painting does it for one stroke'],
  ['Shift drag', 'Brush: a straight stroke'],
  ['Enter', 'Brush: a dot at the cross-hair; Backspace takes the last stroke of the frame away'],
  ['Arrow keys', 'Feathering points: up and down the outer, left and right the inner width'],
  ['Enter', 'Ready-made shapes: put one in the middle'],
  ['Arrow keys', 'Placing an element: move it by 1 px; Shift 10 px, Alt 0.1 px'],
  ['Shift drag', 'Placing an element: move along one axis, turn by steps of 15°'],
  ['Space, drag', 'Move the picture'],
  ['Wheel', 'Zoom at the pointer'],
  ['Escape', 'Give up what is in progress; let go of the selection'],
];
