/** Productions and shots: what they are, listing, making, renaming, deleting and bringing back. */
import { randomUUID } from 'node:crypto';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { literal, Op, type Sequelize } from 'sequelize';
import { z } from 'zod';
import type { JoinedShot } from '../core/compose/joined.ts';
import { finishedFrames } from '../core/compose/other-shots.ts';
import { newDocument } from '../core/document/records.ts';
import { type ShotDocument, timingSchema } from '../core/document/schema.ts';
import type { Rate } from '../core/time/rate.ts';
import type { Config } from './config.ts';
import { ChangeRow, Job, Plate, type PlateState, Production, Shot } from './db/models.ts';
import { closeStoresOf, readStoredFrame, STORES } from './footage/frame-store.ts';
import type { IngestResult } from './footage/ingest.ts';
import { type Filling, type Probe, probeSchema } from './footage/probe.ts';
import { soundFile, waveformFile } from './footage/sound.ts';
import type { Uploads } from './footage/uploads.ts';
import { InTurn } from './in-turn.ts';
import { notFound, Problem } from './problem.ts';

/** What the plate of joined shots is called. */
export const JOINED = 'joined.mov';
const NAME_LENGTH = 120;
const nameSchema = z
  .string()
  .trim()
  .min(1, { error: 'Give it a name.' })
  .max(NAME_LENGTH, { error: `A name has at most ${NAME_LENGTH} letters.` });

const frameNumber = z.coerce.number().int().min(0).max(10_000_000);

const DAY = 86_400_000;

/** The name of a file without its kind and number, as far as a name may be long. */
function nameFromFile(file: string): string {
  const letters = [
    ...(file
      .replace(/\.[^.]+$/, '')
      .replace(/[._-]*\d+$/, '')
      .trim() || 'Shot'),
  ];
  while (letters.join('').length > NAME_LENGTH) letters.pop();
  return letters.join('').trim();
}

/** A shot that was made of an upload, with what is to be said of it. */
export interface MadeShot {
  shotId: string;
  plateId: string;
  notes: string[];
  alpha: boolean;
}

/** What is to become of footage that is damaged: what is seen in the stead of pictures, or that what there is of a movie is taken. */
export type Decision = Filling | 'take';

export interface ShotSummary {
  id: string;
  name: string;
  plateId: string;
  /** The plate whose picture stands for it: of shots that were joined, that of the first. */
  cover: string;
  sourceName: string;
  state: PlateState;
  message: string | null;
  jobId: string | null;
  progress: number;
  width: number | null;
  height: number | null;
  frames: number | null;
  /** Whether its footage has alpha. */
  alpha: boolean;
  /** What is to be decided before it can be used. */
  asks: Probe['asks'] | null;
  /** Frames on which something else is seen than what should be there; and what else is to be said of its footage. */
  damaged: number;
  notes: string[];
  rate: Rate | null;
  subjects: number;
  /** What is in the lanes. */
  composed: number;
  updatedAt: string;
}

/** What a shot is made of. */
interface Made {
  productionId: string;
  uploadId: string;
  name?: string;
  rate: string;
  /** What is in it from the start; empty where it does not say. */
  document?: ShotDocument;
}

/** A shot as it can be shown in another. */
export interface Showable extends JoinedShot {
  /** Whether its footage has alpha, and sound. */
  alpha: boolean;
  hasSound: boolean;
  subjects: { id: string; name: string }[];
}

/** What a document says of a plate that is ready. */
export const plateFacts = (plate: Plate): ShotDocument['plate'] => ({
  width: plate.width as number,
  height: plate.height as number,
  frames: plate.frames as number,
  rate: { num: plate.rateNum as number, den: plate.rateDen as number },
  firstNumber: plate.firstNumber,
});

export class Shots {
  private readonly sequelize: Sequelize;
  private readonly config: Config;
  private readonly uploads: Uploads;
  /** Uploads that are being made into shots. */
  private readonly making = new InTurn();
  constructor(sequelize: Sequelize, config: Config, uploads: Uploads) {
    this.sequelize = sequelize;
    this.config = config;
    this.uploads = uploads;
  }

  plateDirectory(plateId: string): string {
    if (!/^[0-9a-f-]{36}$/.test(plateId)) throw notFound('plate');
    return path.join(this.config.dataDir, 'plates', plateId);
  }
  originals = (plateId: string): string => path.join(this.plateDirectory(plateId), 'original');
  frameStore = (plateId: string): string => path.join(this.plateDirectory(plateId), 'frames');

  /** The JPEG of one frame, from 0, of a plate at one of the sizes that are stored. */
  storedFrame = (plateId: string, size: string, frame: string): Promise<Buffer> =>
    readStoredFrame(this.frameStore(plateId), z.enum(STORES).parse(size), frameNumber.parse(frame));

  /** The file of a plate's sound, or of how loud it is. */
  async soundOf(plateId: string, of: 'sound' | 'waveform'): Promise<string> {
    const plate = await Plate.findByPk(plateId);
    if (!plate) throw notFound('footage');
    this.requireReady(plate);
    const from = { plateDir: this.plateDirectory(plateId), originals: this.originals(plateId), probe: this.probeOf(plate), frames: plate.frames ?? 1 };
    return of === 'sound' ? soundFile(from) : waveformFile(from);
  }

  async productions() {
    const rows = await Production.findAll({
      where: { deletedAt: null },
      order: [['createdAt', 'ASC']],
      include: [{ association: 'shots', where: { deletedAt: null }, required: false, attributes: ['id', 'plateId', 'createdAt'] }],
    });
    return rows.map((p) => {
      const shots = (p as unknown as { shots: Shot[] }).shots.sort((a, b) => a.createdAt.getTime() - b.createdAt.getTime());
      return { id: p.id, name: p.name, shots: shots.length, plateIds: shots.slice(0, 3).map((s) => s.plateId) };
    });
  }

  async createProduction(name: string): Promise<string> {
    const id = randomUUID();
    await Production.create({ id, name: nameSchema.parse(name) });
    return id;
  }

  async renameProduction(id: string, name: string): Promise<void> {
    const [n] = await Production.update({ name: nameSchema.parse(name) }, { where: { id, deletedAt: null } });
    if (n === 0 && !(await Production.findOne({ where: { id, deletedAt: null } }))) throw notFound('production');
  }

  async setProductionDeleted(id: string, deleted: boolean): Promise<void> {
    const production = await Production.findByPk(id);
    if (!production) throw notFound('production');
    await production.update({ deletedAt: deleted ? new Date() : null });
  }

  async production(id: string) {
    const production = await Production.findOne({ where: { id, deletedAt: null } });
    if (!production) throw notFound('production');
    return { id: production.id, name: production.name };
  }

  async shots(productionId: string): Promise<ShotSummary[]> {
    const rows = await Shot.findAll({
      where: { productionId, deletedAt: null },
      // Documents can be large; only how much they hold is asked for, and what the first item shows.
      attributes: {
        exclude: ['document'],
        include: [
          [literal("JSON_LENGTH(`Shot`.`document`, '$.cast')"), 'subjects'],
          [literal("JSON_LENGTH(`Shot`.`document`, '$.lanes')"), 'composed'],
          [literal("JSON_VALUE(`Shot`.`document`, '$.lanes[0].footage.id')"), 'first'],
        ],
      },
      include: ['plate'],
      order: [['createdAt', 'ASC']],
    });
    const jobs = await Job.findAll({ where: { kind: 'ingest', shotId: { [Op.in]: rows.map((r) => r.id) } } });
    return rows.map((shot) => {
      const plate = (shot as unknown as { plate: Plate }).plate;
      const job = jobs.find((j) => j.shotId === shot.id);
      const probe = this.probeOf(plate);
      return {
        id: shot.id,
        name: shot.name,
        plateId: shot.plateId,
        cover: (plate.sourceName === JOINED && (shot.get('first') as string | null)) || shot.plateId,
        sourceName: plate.sourceName,
        state: plate.state,
        message: job?.message ?? null,
        jobId: job?.id ?? null,
        progress: job && job.total > 0 ? Math.min(1, job.done / job.total) : 0,
        width: plate.width,
        height: plate.height,
        frames: plate.frames,
        alpha: probe.alpha === true,
        asks: probe.asks ?? null,
        damaged: probe.damage.length,
        notes: probe.notes,
        rate: plate.rateNum && plate.rateDen ? { num: plate.rateNum, den: plate.rateDen } : null,
        subjects: Number(shot.get('subjects') ?? 0),
        composed: Number(shot.get('composed') ?? 0),
        updatedAt: shot.updatedAt.toISOString(),
      };
    });
  }

  /** The other shots of the production of one that can be shown in it. */
  async neighbours(shotId: string): Promise<Showable[]> {
    const { production } = await this.shot(shotId);
    return (await this.showable(production.id)).filter(({ id }) => id !== shotId);
  }

  /** Shots of a production that can be shown in others, with their subjects. */
  async showable(productionId: string): Promise<Showable[]> {
    // As in the list of shots, documents stay where they are.
    const read = (path: string, as: string): [ReturnType<typeof literal>, string] => [literal(`JSON_EXTRACT(\`Shot\`.\`document\`, '${path}')`), as];
    const rows = await Shot.findAll({
      where: { productionId, deletedAt: null },
      attributes: {
        exclude: ['document'],
        include: [read('$.cast[*].id', 'ids'), read('$.cast[*].name', 'names'), read('$.timing', 'timing'), read('$.lanes[0].id', 'composed')],
      },
      include: ['plate'],
      order: [['createdAt', 'ASC']],
    });
    return rows.flatMap((shot) => {
      const plate = (shot as unknown as { plate: Plate }).plate;
      if (plate.state !== 'ready' || plate.frames === null || plate.width === null || plate.height === null) return [];
      const list = (of: string) => z.array(z.string()).parse(JSON.parse((shot.get(of) as string | null) ?? '[]'));
      const [ids, names, timing] = [list('ids'), list('names'), timingSchema.nullable().parse(JSON.parse((shot.get('timing') as string | null) ?? 'null'))];
      const { frames, width, height } = plate;
      return [
        {
          ...{ id: shot.id, name: shot.name, plateId: plate.id, frames, width, height },
          rate: { num: plate.rateNum ?? 24, den: plate.rateDen ?? 1 },
          alpha: this.probeOf(plate).alpha === true,
          hasSound: plate.hasSound,
          subjects: ids.map((id, i) => ({ id, name: names[i] })),
          finished: shot.get('composed') || timing ? finishedFrames({ plate: { frames }, timing }) : null,
        },
      ];
    });
  }

  /** A live shot with its plate; throws where it is gone. */
  async shot(id: string): Promise<{ shot: Shot; plate: Plate; production: { id: string; name: string } }> {
    const shot = await Shot.findOne({ where: { id, deletedAt: null }, include: ['plate', 'production'] });
    const parents = shot as unknown as { plate: Plate; production: Production } | null;
    if (!shot || !parents || parents.production.deletedAt) throw notFound('shot');
    return { shot, plate: parents.plate, production: { id: parents.production.id, name: parents.production.name } };
  }

  /**
   * Makes a shot of an upload: examines it first, so that what cannot be used leaves nothing behind. Its footage keeps the id of the upload:
   * asked for twice, also at once or after a restart, it is made once and told twice.
   */
  createFromUpload(input: Made): Promise<MadeShot> {
    return this.making.do(input.uploadId, async () => (await this.madeFrom(input.uploadId)) ?? this.makeFromUpload(input));
  }

  private async madeFrom(uploadId: string): Promise<MadeShot | null> {
    const shot = await Shot.findOne({ where: { plateId: uploadId }, include: ['plate'], order: [['createdAt', 'ASC']] });
    if (!shot) return null;
    const { notes, alpha } = this.probeOf((shot as unknown as { plate: Plate }).plate);
    return { shotId: shot.id, plateId: uploadId, notes, alpha: alpha === true };
  }

  private async makeFromUpload(input: Made): Promise<MadeShot> {
    await this.production(input.productionId);
    const given = input.name?.trim() ? nameSchema.parse(input.name) : null;
    const { probe, sourceName, firstNumber } = await this.uploads.examine(input.uploadId, input.rate).catch(async (error: unknown) => {
      await this.uploads.discard(input.uploadId);
      throw error;
    });
    const name = given ?? nameFromFile(sourceName);
    const plateId = input.uploadId;
    const shotId = randomUUID();
    await mkdir(this.plateDirectory(plateId), { recursive: true });
    await rename(this.uploads.directory(input.uploadId), this.originals(plateId));
    try {
      await this.sequelize.transaction(async (transaction) => {
        await Plate.create(
          { id: plateId, state: 'waiting', kind: probe.kind, sourceName, firstNumber, hasSound: probe.hasSound, probe: JSON.stringify(probe) },
          { transaction },
        );
        await Shot.create(
          { id: shotId, productionId: input.productionId, plateId, name, document: input.document ? JSON.stringify({ ...input.document, name }) : null },
          { transaction },
        );
        await Job.create({ id: randomUUID(), kind: 'ingest', label: name, shotId, state: 'queued', payload: '{}', total: probe.framesGuess }, { transaction });
      });
    } catch (error) {
      // What was sent is still there when it is asked for again.
      await rename(this.originals(plateId), this.uploads.directory(input.uploadId));
      await rm(this.plateDirectory(plateId), { recursive: true, force: true });
      throw error;
    }
    return { shotId, plateId, notes: probe.notes, alpha: probe.alpha === true };
  }

  /** Removes footage that no shot knows of, which a server left that was killed while it took it in, once it is a day old. */
  async removeOrphans(now = new Date()): Promise<string[]> {
    const root = path.join(this.config.dataDir, 'plates');
    const known = new Set((await Plate.findAll({ attributes: ['id'] })).map((plate) => plate.id));
    const gone: string[] = [];
    for (const name of await readdir(root).catch(() => [] as string[])) {
      const info = known.has(name) ? null : await stat(path.join(root, name)).catch(() => null);
      if (!info || now.getTime() - info.mtimeMs < DAY) continue;
      await rm(path.join(root, name), { recursive: true, force: true });
      gone.push(name);
    }
    return gone;
  }

  probeOf = (plate: Plate): Probe => probeSchema.parse(JSON.parse(plate.probe));

  /** The originals of footage by id; what is no longer here is left out. */
  async originalsOf(ids: string[]): Promise<Record<string, { probe: Probe; originals: string }>> {
    const plates = ids.length > 0 ? await Plate.findAll({ where: { id: ids, state: 'ready' } }) : [];
    return Object.fromEntries(plates.map((plate) => [plate.id, { probe: this.probeOf(plate), originals: this.originals(plate.id) }]));
  }

  /** The plate is in: its facts, and the empty document of the shot. */
  async plateReady(shotId: string, result: IngestResult): Promise<void> {
    const { shot, plate } = await this.shot(shotId);
    const { probe } = result;
    await this.sequelize.transaction(async (transaction) => {
      await plate.update(
        {
          state: 'ready',
          probe: JSON.stringify(probe),
          width: result.width,
          height: result.height,
          proxyWidth: result.proxyWidth,
          proxyHeight: result.proxyHeight,
          frames: result.frames,
          rateNum: probe.rate.num,
          rateDen: probe.rate.den,
        },
        { transaction },
      );
      if (shot.document === null) {
        await shot.update({ document: JSON.stringify(newDocument(shot.name, plateFacts(plate))) }, { transaction });
      }
    });
  }

  /** The original of footage that is there. */
  async originalOf(plateId: string): Promise<{ probe: Probe; originals: string } | null> {
    return (await this.originalsOf([plateId]))[plateId] ?? null;
  }

  /** It could not be brought in; what a decision would mend is asked. */
  async plateFailed(plateId: string, asks: Probe['asks']): Promise<void> {
    const plate = await Plate.findByPk(plateId);
    await plate?.update({ state: 'failed', probe: JSON.stringify({ ...this.probeOf(plate), asks }) });
  }

  /** Decides what was asked of footage that is damaged; gives the job that brings it in, which is to go on. */
  async decide(shotId: string, decision: Decision): Promise<string> {
    const { plate } = await this.shot(shotId);
    const probe = this.probeOf(plate);
    const job = await Job.findOne({ where: { kind: 'ingest', shotId } });
    const wanted = decision === 'take' ? 'short' : 'filling';
    if (!job || probe.asks !== wanted) throw new Problem('nothing-asked', 'This was decided already, on another page.', 409);
    const decided = decision === 'take' ? { takesShort: true } : { filling: decision };
    await plate.update({ state: 'waiting', probe: JSON.stringify({ ...probe, ...decided, asks: undefined }) });
    return job.id;
  }

  async setPlateState(plateId: string, state: PlateState): Promise<void> {
    await Plate.update({ state }, { where: { id: plateId } });
  }

  async rename(id: string, name: string): Promise<void> {
    const { shot } = await this.shot(id);
    await shot.update({ name: nameSchema.parse(name), updatedAt: new Date() });
  }

  async setDeleted(id: string, deleted: boolean): Promise<void> {
    const shot = await Shot.findByPk(id);
    if (!shot) throw notFound('shot');
    await shot.update({ deletedAt: deleted ? new Date() : null });
  }

  /** What was deleted and can still be brought back. */
  async deleted() {
    const [shots, productions] = await Promise.all([
      Shot.findAll({ where: { deletedAt: { [Op.not]: null } }, include: ['production'], order: [['deletedAt', 'DESC']] }),
      Production.findAll({ where: { deletedAt: { [Op.not]: null } }, order: [['deletedAt', 'DESC']] }),
    ]);
    return {
      shots: shots.map((s) => ({
        id: s.id,
        name: s.name,
        production: (s as unknown as { production: Production }).production.name,
        deletedAt: (s.deletedAt as Date).toISOString(),
      })),
      productions: productions.map((p) => ({ id: p.id, name: p.name, deletedAt: (p.deletedAt as Date).toISOString() })),
    };
  }

  /** Removes for good what was deleted longer ago than is kept, footage included. */
  async purge(now = new Date()): Promise<number> {
    const before = new Date(now.getTime() - this.config.keepDeletedDays * DAY);
    const gone = await Production.findAll({ where: { deletedAt: { [Op.lt]: before } } });
    const shots = await Shot.findAll({ where: { [Op.or]: [{ deletedAt: { [Op.lt]: before } }, { productionId: { [Op.in]: gone.map((p) => p.id) } }] } });
    for (const shot of shots) await this.destroyShot(shot);
    for (const production of gone) await production.destroy();
    return shots.length;
  }

  /** Removes a production and all its shots for good. */
  async destroyProduction(id: string): Promise<void> {
    for (const shot of await Shot.findAll({ where: { productionId: id } })) await this.destroyShot(shot);
    await Production.destroy({ where: { id } });
  }

  private async destroyShot(shot: Shot): Promise<void> {
    await this.sequelize.transaction(async (transaction) => {
      await ChangeRow.destroy({ where: { shotId: shot.id }, transaction });
      await Job.destroy({ where: { shotId: shot.id }, transaction });
      await shot.destroy({ transaction });
      await Plate.destroy({ where: { id: shot.plateId }, transaction });
    });
    await closeStoresOf(this.plateDirectory(shot.plateId));
    await rm(this.plateDirectory(shot.plateId), { recursive: true, force: true });
  }

  requireReady(plate: Plate): void {
    if (plate.state !== 'ready') throw new Problem('not-ready', 'The footage of this shot is still being brought in.', 409);
  }
}
