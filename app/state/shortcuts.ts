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
      draw: { keys: 'D', bind: ['d'], does: 'Tool: draw a curve' },
      pan: { keys: 'H', bind: ['h'], does: 'Tool: move the picture' },
      reach: { keys: 'R', bind: ['r'], does: 'Next Reach: between keys, all frames, this frame' },
      key: { keys: 'K', bind: ['k'], does: 'Key the shape of the selected part on this frame' },
      unkey: { keys: 'Shift K', bind: ['Shift+K'], does: 'Take its keys on this frame away' },
      invert: { keys: 'I', bind: ['i'], does: 'Invert the selected part' },
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
  ['A', 'All points of the curve'],
  ['T', 'Corner or smooth'],
  ['X', 'New point after the selected one'],
  ['Space, drag', 'Move the picture'],
  ['Wheel', 'Zoom at the pointer'],
  ['Escape', 'Give up what is in progress; let go of the selection'],
];
