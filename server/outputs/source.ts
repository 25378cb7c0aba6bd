/** What can be written of a shot, whatever kind of file it goes into. */
import { renderElementsAlone } from '../../core/compose/elements-alone.ts';
import { renderPicture, renderPictureBytes } from '../../core/compose/render-picture.ts';
import { pictureAtTime } from '../../core/compose/timed-picture.ts';
import { bytesOfPicture } from '../../core/image/in-room.ts';
import type { Gray, Rgba } from '../../core/image/picture.ts';
import { renderCutout } from '../../core/matte/cutout.ts';
import { renderMatte } from '../../core/matte/render-matte.ts';
import { fileStem } from './file-stem.ts';
import { heldStill } from './held-still.ts';
import type { Originals } from './originals.ts';
import { type OutputTask, subjectOf } from './task.ts';
import { timesOfOutput } from './timed.ts';

/** What a file has to carry: gray alone, colours with alpha, or colours that cover everything. */
export type Carried = 'gray' | 'alpha' | 'opaque';

interface SourceOf<C extends Carried, P> {
  id: 'matte' | 'cutout' | 'elements' | 'composed';
  label: string;
  of: 'subject' | 'picture';
  /** Whether it shows the plate, and so needs its footage. */
  showsPlate: boolean;
  carries: C;
  /** The name of its files, without number and extension. */
  stem(task: OutputTask): string;
  /** The picture of a written frame, of the size of the plate, held still where that is asked for; premultiplied where it has alpha. */
  render(task: OutputTask, frame: number, sources: Originals): Promise<P>;
}
interface OpaqueSource extends SourceOf<'opaque', Rgba> {
  /** The same as bytes of RGB, the short way. */
  bytes(task: OutputTask, frame: number, sources: Originals): Promise<Buffer>;
}
export type OutputSource = SourceOf<'gray', Gray> | SourceOf<'alpha', Rgba> | OpaqueSource;

const ofSubject = (task: OutputTask) => `${fileStem(task.document.name)}-${fileStem(subjectOf(task).name)}`;

const matte: OutputSource = {
  id: 'matte',
  label: 'Matte',
  of: 'subject',
  showsPlate: false,
  carries: 'gray',
  stem: (task) => `${fileStem(subjectOf(task).name)}-matte`,
  render: async (task, frame, sources) => heldStill(await renderMatte(task.document, subjectOf(task).id, frame, sources, task.document.plate), task, frame),
};

const cutout: OutputSource = {
  id: 'cutout',
  label: 'Cut-out',
  of: 'subject',
  showsPlate: true,
  carries: 'alpha',
  stem: (task) => `${ofSubject(task)}-cutout`,
  render: async (task, frame, sources) => heldStill(await renderCutout(task.document, subjectOf(task).id, frame, sources, task.document.plate), task, frame),
};

const elements: OutputSource = {
  id: 'elements',
  label: 'Elements alone',
  of: 'picture',
  showsPlate: false,
  carries: 'alpha',
  stem: ({ document }) => `${fileStem(document.name)}-elements`,
  render: async (task, frame, sources) => heldStill(await renderElementsAlone(task.document, frame, sources, task.document.plate), task, frame),
};

const composed: OpaqueSource = {
  id: 'composed',
  label: 'Composed',
  of: 'picture',
  showsPlate: true,
  carries: 'opaque',
  stem: ({ document }) => `${fileStem(document.name)}-composed`,
  async render(task, frame, sources) {
    const { document } = task;
    const times = timesOfOutput(task);
    if (!times) return heldStill(await renderPicture(document, frame, sources, document.plate), task, frame);
    const time = times.timeAt(frame);
    return heldStill(await pictureAtTime(document, time, sources, document.plate), task, Math.round(time));
  },
  async bytes(task, frame, sources) {
    const bytes =
      task.spec.hold || timesOfOutput(task)
        ? bytesOfPicture(await composed.render(task, frame, sources), 3)
        : await renderPictureBytes(task.document, frame, sources, task.document.plate, 3);
    return Buffer.from(bytes.buffer);
  },
};

export const SOURCES: readonly OutputSource[] = [matte, cutout, composed, elements];
