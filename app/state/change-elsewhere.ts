import type { Edit } from '~/core/document/edits.ts';
import { send } from './send.ts';

const newId = () => crypto.randomUUID();

/** Makes a change to a shot that is not open here. @throws Error in words where it is not made */
export const changeElsewhere = (shotId: string, label: string, edits: Edit[]) =>
  send(`/shots/${shotId}/changes`, { body: { role: 'do', page: newId(), change: { id: newId(), label: label.slice(0, 120), edits } } });
