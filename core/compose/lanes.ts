/** The lanes: where in the picture, by depth, something is seen that was put there. */
import { type Lane, ofSubject, type ShotDocument } from '../document/schema.ts';
import { type Gray, newGray, type Size } from '../image/picture.ts';
import { renderMatte } from '../matte/render-matte.ts';
import type { MatteSources } from '../matte/sources.ts';

/** A lane of a shot: of a subject, or in front of or behind all of them. */
export interface LanePlace {
  lane: Lane;
  subject: string | null;
}

/** All lanes of a shot, far to near: behind everything, then behind and on each subject from the farthest on, then in front. */
export function lanesInDepth({ cast }: Pick<ShotDocument, 'cast'>): LanePlace[] {
  const subjects = [...cast].reverse().flatMap(({ id }): LanePlace[] => [
    { lane: 'behind', subject: id },
    { lane: 'inside', subject: id },
  ]);
  return [{ lane: 'backdrop', subject: null }, ...subjects, { lane: 'front', subject: null }];
}

export const isIn = (item: LanePlace, { lane, subject }: LanePlace): boolean => item.lane === lane && (!ofSubject(lane) || item.subject === subject);

/** The mattes of one frame, each made once. */
export class FrameMattes {
  private readonly made = new Map<string, Promise<Gray>>();
  private readonly document: ShotDocument;
  private readonly frame: number;
  private readonly sources: MatteSources;
  private readonly size: Size;
  constructor(document: ShotDocument, frame: number, sources: MatteSources, size: Size) {
    this.document = document;
    this.frame = frame;
    this.sources = sources;
    this.size = size;
  }

  of(subject: string): Promise<Gray> {
    let matte = this.made.get(subject);
    if (!matte) {
      matte = renderMatte(this.document, subject, this.frame, this.sources, this.size);
      this.made.set(subject, matte);
    }
    return matte;
  }

  /**
   * How far each pixel belongs to a lane, [0,1]; null where all do. Inside is the subject's matte. Behind is what neither it nor a
   * nearer subject of the cast covers; the backdrop what none of them covers.
   */
  async confine({ lane, subject }: LanePlace): Promise<Gray | null> {
    if (lane === 'front') return null;
    if (lane === 'inside') return this.of(subject as string);
    const { cast } = this.document;
    const covering = lane === 'backdrop' ? cast : cast.slice(0, cast.findIndex((s) => s.id === subject) + 1);
    const out = newGray(this.size.width, this.size.height);
    out.data.fill(1);
    for (const { id } of covering) {
      const { data } = await this.of(id);
      for (let i = 0; i < data.length; i++) out.data[i] *= 1 - data[i];
    }
    return out;
  }
}
