import type { Wish } from '../frame/pictures.ts';
import type { ViewState } from '../state/view-store.ts';

/** What the viewer wants to show on a frame, as the view is set. */
export const wishFor = (view: ViewState, frame: number, subject: string | null, store: Wish['store']): Wish => ({
  view: view.view,
  frame,
  subject,
  store,
  colour: view.tint,
  solo: view.solo,
  gamma: view.matteGamma,
  without: view.without,
  judge: view.judge,
  compared: view.compared,
});
