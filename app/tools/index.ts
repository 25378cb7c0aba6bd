/** All tools, in the order in which they are shown; one more is a file and a line here. */
import { BRUSH } from './brush-tool.ts';
import { DRAW } from './draw-tool.ts';
import { EDIT } from './edit-tool.ts';
import { FEATHER } from './feather-tool.ts';
import { HAND } from './hand-tool.ts';
import { MARK } from './mark-tool.ts';
import { PAN } from './pan-tool.ts';
import { PLACE } from './place-tool.ts';
import { SCRIBBLE } from './scribble-tool.ts';
import { SHAPE } from './shape-tool.ts';
import type { ToolDescription } from './tool.ts';

export const TOOLS = [EDIT, BRUSH, DRAW, HAND, SHAPE, FEATHER, MARK, PLACE, SCRIBBLE, PAN] as const;

export type ToolId = (typeof TOOLS)[number]['id'];

export const toolById = (id: ToolId): ToolDescription<ToolId> => TOOLS.find((t) => t.id === id) as ToolDescription<ToolId>;
