import type { PictureRequest } from '../frame/pictures.ts';
import type { ViewState } from './view-store.ts';

/** What the viewer wants to show on a frame, as the view is set. */
export const requestFor = (view: ViewState, frame: number, subject: string | null, store: PictureRequest['store']): PictureRequest => ({
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
