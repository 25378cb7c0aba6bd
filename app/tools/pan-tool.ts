/** Moving the picture: the viewer does it itself, with any tool in hand, while Space is held or the middle button pressed. */
import { Hand } from 'lucide-react';
import type { ToolDescription } from './tool.ts';

export const PAN: ToolDescription<'pan'> = {
  id: 'pan',
  label: 'Move the picture',
  about: 'The wheel zooms at the pointer.',
  icon: Hand,
  bind: ['h'],
  does: 'Tool: move the picture',
  benches: ['isolate', 'edge', 'compose', 'output'],
  make: null,
};
