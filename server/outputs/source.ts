/** What can be written of a shot, whatever kind of file it goes into. */
import { renderElementsAlone } from '../../core/compose/elements-alone.ts';
import { renderPicture, renderPictureBytes } from '../../core/compose/render-picture.ts';
import { pictureAtTime } from '../../core/compose/timed-picture.ts';
import { bytesOfPicture } from '../../core/image/in-room.ts';
import type { Gray, Rgba } from '../../core/image/picture.ts';
import { resampled } from '../../core/image/resample.ts';
import { renderCutout } from '../../core/matte/cutout.ts';
import { renderMatte } from '../../core/matte/render-matte.ts';
import { burnIn } from './burn-in.ts';
import { deliveryOf, numberOf, writtenSize } from './delivered.ts';
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
  /** The name of its files where none is asked for, in words of delivery. */
  pattern: string;
  /** The picture of a written frame, held still and at another size where that is asked for; premultiplied where it has alpha. */
  render(task: OutputTask, frame: number, sources: Originals): Promise<P>;
}
interface OpaqueSource extends SourceOf<'opaque', Rgba> {
  /** The same as bytes of RGB, the short way. */
  bytes(task: OutputTask, frame: number, sources: Originals): Promise<Buffer>;
}
export type OutputSource = SourceOf<'gray', Gray> | SourceOf<'alpha', Rgba> | OpaqueSource;

/** A picture of the size of the plate as it is to be written. */
const finished = <P extends Gray | Rgba>(picture: P, task: OutputTask, frame: number): P => resampled(heldStill(picture, task, frame), writtenSize(task));

const matte: OutputSource = {
  id: 'matte',
  label: 'Matte',
  of: 'subject',
  showsPlate: false,
  carries: 'gray',
  pattern: '{subject}-matte',
  render: async (task, frame, sources) => finished(await renderMatte(task.document, subjectOf(task).id, frame, sources, task.document.plate), task, frame),
};

const cutout: OutputSource = {
  id: 'cutout',
  label: 'Cut-out',
  of: 'subject',
  showsPlate: true,
  carries: 'alpha',
  pattern: '{shot}-{subject}-cutout',
  render: async (task, frame, sources) => finished(await renderCutout(task.document, subjectOf(task).id, frame, sources, task.document.plate), task, frame),
};

const elements: OutputSource = {
  id: 'elements',
  label: 'Elements alone',
  of: 'picture',
  showsPlate: false,
  carries: 'alpha',
  pattern: '{shot}-elements',
  render: async (task, frame, sources) => finished(await renderElementsAlone(task.document, frame, sources, task.document.plate), task, frame),
};

const composed: OpaqueSource = {
  id: 'composed',
  label: 'Composed',
  of: 'picture',
  showsPlate: true,
  carries: 'opaque',
  pattern: '{shot}-composed',
  async render(task, frame, sources) {
    const { document, spec } = task;
    const times = timesOfOutput(task);
    const time = times ? times.timeAt(frame) : frame;
    const whole = times ? await pictureAtTime(document, time, sources, document.plate) : await renderPicture(document, frame, sources, document.plate);
    const picture = finished(whole, task, Math.round(time));
    if (deliveryOf(spec).note) await burnIn(picture, task, numberOf(task, frame), Math.round(time));
    return picture;
  },
  async bytes(task, frame, sources) {
    const { spec, document } = task;
    const isShort = !spec.hold && deliveryOf(spec).size === 'full' && !deliveryOf(spec).note && !timesOfOutput(task);
    const bytes = isShort
      ? await renderPictureBytes(document, frame, sources, document.plate, 3)
      : bytesOfPicture(await composed.render(task, frame, sources), 3);
    return Buffer.from(bytes.buffer);
  },
};

export const SOURCES: readonly OutputSource[] = [matte, cutout, composed, elements];
