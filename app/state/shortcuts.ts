/** All shortcuts of the workbench: one list for what they do, and for the page that shows them. */
export interface Shortcut {
  keys: string;
  /** In the words of tinykeys; several mean the same. */
  bind: string[];
  does: string;
}

export const SHORTCUTS: { group: string; items: Record<string, Shortcut> }[] = [
  {
    group: 'Frames',
    items: {
      next: { keys: '. or Page Down', bind: ['.', 'PageDown'], does: 'Next frame' },
      previous: { keys: ', or Page Up', bind: [',', 'PageUp'], does: 'Frame before' },
      keyBefore: { keys: '[', bind: ['['], does: 'Key before' },
      keyAfter: { keys: ']', bind: [']'], does: 'Key after' },
      first: { keys: 'Home', bind: ['Home'], does: 'First frame of the range' },
      last: { keys: 'End', bind: ['End'], does: 'Last frame of the range' },
      play: { keys: 'Space', bind: ['Space'], does: 'Play, pause' },
      playBack: { keys: 'Shift Space', bind: ['Shift+Space'], does: 'Play backwards, pause' },
      begin: { keys: 'B', bind: ['b'], does: 'The range begins here' },
      finish: { keys: 'N', bind: ['n'], does: 'The range ends here' },
      loop: { keys: 'L', bind: ['l'], does: 'Loop a range, or all frames again' },
    },
  },
  {
    group: 'View',
    items: {
      plate: { keys: '1', bind: ['1'], does: 'Plate' },
      tint: { keys: '2', bind: ['2'], does: 'Tint' },
      matte: { keys: '3', bind: ['3'], does: 'Matte' },
      cutout: { keys: '4', bind: ['4'], does: 'Cut-out' },
      outline: { keys: '0', bind: ['0'], does: 'Outline' },
      composed: { keys: '5', bind: ['5'], does: 'Composed' },
      outlines: { keys: 'O', bind: ['o'], does: 'Show or hide the curves' },
      fit: { keys: 'F', bind: ['f'], does: 'Fit the plate in the viewer' },
      actual: { keys: 'Shift F', bind: ['Shift+F'], does: 'One plate pixel on one screen pixel' },
    },
  },
  {
    group: 'Work',
    items: {
      undo: { keys: 'Ctrl Z', bind: ['$mod+z'], does: 'Undo' },
      redo: { keys: 'Ctrl Shift Z', bind: ['$mod+Shift+z', '$mod+Shift+Z'], does: 'Redo' },
      edit: { keys: 'E', bind: ['e'], does: 'Tool: change curves' },
      brush: { keys: 'Z', bind: ['z'], does: 'Tool: brush of Peel' },
      draw: { keys: 'D', bind: ['d'], does: 'Tool: draw a curve' },
      pan: { keys: 'H', bind: ['h'], does: 'Tool: move the picture' },
      hand: { keys: 'J', bind: ['j'], does: 'Tool: draw by hand' },
      shape: { keys: 'Q', bind: ['q'], does: 'Tool: ready-made shapes' },
      feather: { keys: 'W', bind: ['w'], does: 'Tool: feather points' },
      mark: { keys: 'Shift M', bind: ['Shift+M'], does: 'Tool: points to track' },
      place: { keys: 'Shift E', bind: ['Shift+E'], does: 'Tool: place elements' },
      frame: { keys: 'G', bind: ['g'], does: 'Show or hide the transform frame' },
      snap: { keys: 'S', bind: ['s'], does: 'Snap on or off' },
      magnify: { keys: 'M', bind: ['m'], does: 'Magnifier at the pointer, or in a drag alone' },
      numbers: { keys: 'U', bind: ['u'], does: 'Numbers of points on or off' },
      onion: { keys: 'Y', bind: ['y'], does: 'Onion skin on or off' },
      reach: { keys: 'R', bind: ['r'], does: 'Next Reach: between keys, marked range, all frames, this frame' },
      reachFrame: { keys: '6', bind: ['6'], does: 'Reach: this frame' },
      reachKeys: { keys: '7', bind: ['7'], does: 'Reach: between keys' },
      reachRange: { keys: '8', bind: ['8'], does: 'Reach: marked range' },
      reachAll: { keys: '9', bind: ['9'], does: 'Reach: all frames' },
      key: { keys: 'K', bind: ['k'], does: 'Key here what has keys: of the selected part or item, or of everything' },
      keyAll: { keys: 'Alt K', bind: ['Alt+k'], does: 'Key all settings of the selected part or item, or of the edge, here' },
      unkey: { keys: 'Shift K', bind: ['Shift+K'], does: 'Take the keys on this frame away' },
      invert: { keys: 'I', bind: ['i'], does: 'Invert the selected part' },
      approve: { keys: 'V', bind: ['v'], does: 'Approve the frame or the marked range, or release it' },
      carryBoth: { keys: 'Ctrl Enter', bind: ['$mod+Enter'], does: 'Carry the Peel through the marked range, or all frames' },
      nextDoubt: { keys: 'Shift D', bind: ['Shift+D'], does: 'Next doubtful frame' },
      review: { keys: 'Shift R', bind: ['Shift+R'], does: 'Review doubtful frames, worst first: begin, next' },
      curves: { keys: 'C', bind: ['c'], does: 'Curves over time: show or hide' },
    },
  },
];

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
