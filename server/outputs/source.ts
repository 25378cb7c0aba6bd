/** What can be written of a shot, whatever kind of file it goes into. */
import { renderElementsAlone } from '../../core/compose/elements-alone.ts';
import { renderPicture, renderPictureBytes } from '../../core/compose/render-picture.ts';
import { pictureAtTime } from '../../core/compose/timed-picture.ts';
import type { ShotDocument } from '../../core/document/schema.ts';
import { bytesOfPicture } from '../../core/image/in-room.ts';
import { type Gray, newRgba, type Rgba } from '../../core/image/picture.ts';
import { resampled } from '../../core/image/resample.ts';
import { renderCutout } from '../../core/matte/cutout.ts';
import { renderMatte } from '../../core/matte/render-matte.ts';
import { burnIn } from './burn-in.ts';
import { deliveryOf, numberOf, writtenSize } from './delivered.ts';
import { fileStem } from './file-stem.ts';
import { heldStill } from './held-still.ts';
import type { Originals } from './originals.ts';
import { type OutputTask, subjectOf } from './task.ts';
import { timesOfOutput } from './timed.ts';

/** What a picture has to carry: gray alone, colours with alpha, or colours that cover everything. */
export type Carried = 'gray' | 'alpha' | 'opaque';

/** A gray picture with a name of its own. */
interface Channel {
  name: string;
  gray: Gray;
}

interface SourceOf<C extends Carried | 'channels', P> {
  id: 'matte' | 'mattes' | 'mattes-rgb' | 'cutout' | 'elements' | 'composed';
  label: string;
  of: 'subject' | 'picture';
  /** Whether it shows the plate, and so needs its footage. */
  showsPlate: boolean;
  carries: C;
  /** Encodings that it may go into, where not all that carry it are fit. */
  only?: readonly string[];
  /** What is against writing it of a document, in words. */
  refuses?(document: ShotDocument): string | null;
  /** The name of its files where none is asked for, in words of delivery. */
  pattern: string;
  /** The picture of a written frame, held still and at another size where that is asked for; premultiplied where it has alpha. */
  render(task: OutputTask, frame: number, sources: Originals): Promise<P>;
}
interface OpaqueSource extends SourceOf<'opaque', Rgba> {
  /** The same as bytes of RGB, the short way. */
  bytes(task: OutputTask, frame: number, sources: Originals): Promise<Buffer>;
}
/** What is one picture a frame. */
export type OutputSource = SourceOf<'gray', Gray> | SourceOf<'alpha', Rgba> | OpaqueSource;
/** What is several grays a frame. */
export type ChannelSource = SourceOf<'channels', Channel[]>;
export type AnySource = OutputSource | ChannelSource;

/** A picture of the size of the plate as it is to be written. */
const finished = <P extends Gray | Rgba>(picture: P, task: OutputTask, frame: number): P => resampled(heldStill(picture, task, frame), writtenSize(task));

const rgbBytes = (picture: Rgba): Buffer => Buffer.from(bytesOfPicture(picture, 3).buffer);

const matte: OutputSource = {
  id: 'matte',
  label: 'Matte',
  of: 'subject',
  showsPlate: false,
  carries: 'gray',
  pattern: '{subject}-matte',
  render: async (task, frame, sources) => finished(await renderMatte(task.document, subjectOf(task).id, frame, sources, task.document.plate), task, frame),
};

/** A name for each subject, in the order of the cast: apart from each other, and as every reader takes them. */
export function channelNames({ cast }: Pick<ShotDocument, 'cast'>): string[] {
  const names: string[] = [];
  for (const { name } of cast) {
    const stem = fileStem(name).slice(0, 20);
    let free = stem;
    for (let n = 2; names.includes(free); n++) free = `${stem}-${n}`;
    names.push(free);
  }
  return names;
}

/** The matte of each subject, in the order of the cast. */
async function allMattes(task: OutputTask, frame: number, sources: Originals): Promise<Channel[]> {
  const { document } = task;
  const made: Channel[] = [];
  for (const [i, name] of channelNames(document).entries())
    made.push({ name, gray: finished(await renderMatte(document, document.cast[i].id, frame, sources, document.plate), task, frame) });
  return made;
}

const NONE = 'There is no subject in this shot yet. Isolate one first.';

export const mattes: ChannelSource = {
  id: 'mattes',
  label: 'All mattes',
  of: 'picture',
  showsPlate: false,
  carries: 'channels',
  pattern: '{shot}-mattes',
  refuses: ({ cast }) => (cast.length === 0 ? NONE : null),
  render: allMattes,
};

/** The most that go into the channels of a picture. */
const THREE = 3;

const mattesRgb: OpaqueSource = {
  id: 'mattes-rgb',
  label: 'Mattes in red, green, blue',
  of: 'picture',
  showsPlate: false,
  carries: 'opaque',
  // What is made for the eye would change their values.
  only: ['png', 'tiff'],
  pattern: '{shot}-mattes',
  refuses: ({ cast }) =>
    cast.length === 0
      ? NONE
      : cast.length > THREE
        ? `This shot has ${cast.length} subjects, and a picture three channels. Write all mattes as EXR instead.`
        : null,
  async render(task, frame, sources) {
    const made = await allMattes(task, frame, sources);
    const picture = newRgba(made[0].gray.width, made[0].gray.height);
    for (let p = 0; p < picture.data.length / 4; p++) {
      for (const [c, { gray }] of made.slice(0, THREE).entries()) picture.data[4 * p + c] = gray.data[p];
      picture.data[4 * p + 3] = 1;
    }
    return picture;
  },
  async bytes(task, frame, sources) {
    return rgbBytes(await mattesRgb.render(task, frame, sources));
  },
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
    if (!isShort) return rgbBytes(await composed.render(task, frame, sources));
    return Buffer.from((await renderPictureBytes(document, frame, sources, document.plate, 3)).buffer);
  },
};

export const SOURCES: readonly OutputSource[] = [matte, mattesRgb, cutout, composed, elements];
