/** The document of a shot on the server: changes are applied in one transaction each, logged, and told to every open page. */
import { EventEmitter } from 'node:events';
import { Op, type Sequelize, type Transaction } from 'sequelize';
import { z } from 'zod';
import { applyChange, type Change, changeSchema, type Edit, EditError } from '../core/document/edits.ts';
import { type LogEntry, standingOf, standsOn } from '../core/document/history.ts';
import { idSchema, type ShotDocument } from '../core/document/schema.ts';
import type { Config } from './config.ts';
import { ChangeRow, Shot } from './db/models.ts';
import { storedDocument, storedEdits } from './documents.ts';
import { notFound, Problem } from './problem.ts';

const sentChangeSchema = z.discriminatedUnion('role', [
  z.strictObject({ role: z.literal('do'), page: idSchema, change: changeSchema }),
  z.strictObject({ role: z.enum(['undo', 'redo']), page: idSchema, id: idSchema, target: idSchema }),
]);
export type SentChange = z.infer<typeof sentChangeSchema>;

/** One step of the log as pages learn of it. */
export interface LoggedChange extends LogEntry {
  revision: number;
  edits: Edit[];
}

interface Attendant {
  page: string;
  listener(pages: string[]): void;
}

/** How far back undo reaches after a reload. */
const HISTORY = 1000;

/** Stands for any shot, among events. */
const ANY = Symbol('any shot');

/** Stands for the footage of a shot, among events. */
const footageOf = (shotId: string): string => `footage of ${shotId}`;

export class Changes {
  private readonly sequelize: Sequelize;
  private readonly limits: Config['limits'];
  private readonly events = new EventEmitter().setMaxListeners(0);
  /** Pages that have a shot open, by shot. */
  private readonly attending = new Map<string, Map<object, Attendant>>();
  constructor(sequelize: Sequelize, config: Config) {
    this.sequelize = sequelize;
    this.limits = config.limits;
  }

  async load(shotId: string): Promise<{ document: ShotDocument; revision: number; log: LogEntry[] }> {
    const shot = await Shot.findOne({ where: { id: shotId, deletedAt: null } });
    if (!shot) throw notFound('shot');
    if (shot.document === null) throw new Problem('not-ready', 'The footage of this shot is still being brought in.', 409);
    const rows = await ChangeRow.findAll({
      where: { shotId },
      attributes: LOG_FIELDS,
      order: [['revision', 'DESC']],
      limit: HISTORY,
    });
    return {
      document: storedDocument(shot.document),
      revision: shot.revision,
      log: rows.reverse().map(asEntry),
    };
  }

  /** Steps after `revision`, for a page that missed some. */
  async since(shotId: string, revision: number): Promise<LoggedChange[]> {
    const rows = await ChangeRow.findAll({ where: { shotId, revision: { [Op.gt]: revision } }, order: [['revision', 'ASC']] });
    return rows.map(asLogged);
  }

  /**
   * Applies what a page sent and gives the logged step. Sending the same change again gives the step it made the first time,
   * so a page that never heard the answer may simply repeat.
   */
  apply(shotId: string, sent: SentChange): Promise<LoggedChange> {
    return this.log(shotId, sent, sent.role);
  }

  /** The same for what came over the network, see {@link sentChangeSchema}. */
  receive = async (shotId: string, sent: unknown): Promise<LoggedChange> => this.apply(shotId, sentChangeSchema.parse(sent));

  /** Sets a shot up with edits of the program's own. Undo ends there: what the artist finds is where their work begins. */
  setUp(shotId: string, change: Change): Promise<LoggedChange> {
    return this.log(shotId, { role: 'do', page: 'set-up', change }, 'start');
  }

  private async log(shotId: string, sent: SentChange, role: LogEntry['role']): Promise<LoggedChange> {
    const id = sent.role === 'do' ? sent.change.id : sent.id;
    const logged = await this.sequelize.transaction(async (transaction) => {
      const shot = await Shot.findOne({ where: { id: shotId, deletedAt: null }, transaction, lock: transaction.LOCK.UPDATE });
      if (!shot) throw notFound('shot');
      const repeated = await ChangeRow.findOne({ where: { shotId, changeId: id }, transaction });
      if (repeated) return asLogged(repeated);
      if (shot.document === null) throw new Problem('not-ready', 'The footage of this shot is still being brought in.', 409);
      const step = sent.role === 'do' ? sent.change : await this.reversal(shotId, sent, transaction);
      let outcome: { document: ShotDocument; inverse: Edit[] };
      try {
        outcome = applyChange(storedDocument(shot.document), step.edits);
      } catch (error) {
        if (error instanceof EditError) throw new Problem('edit-refused', error.message, 409);
        throw error;
      }
      const text = JSON.stringify(outcome.document);
      if (text.length > this.limits.documentBytes)
        throw new Problem('document-too-large', 'This shot holds more than can be saved. Thin the keys of its paths, or split the shot.', 413);
      const revision = shot.revision + 1;
      const row = await ChangeRow.create(
        {
          shotId,
          revision,
          changeId: id,
          role,
          target: sent.role === 'do' ? null : sent.target,
          label: step.label,
          edits: JSON.stringify(step.edits),
          inverse: JSON.stringify(outcome.inverse),
          page: sent.page,
        },
        { transaction },
      );
      await shot.update({ document: text, revision, updatedAt: new Date() }, { transaction });
      return asLogged(row);
    });
    this.events.emit(shotId, logged);
    this.events.emit(ANY, shotId);
    return logged;
  }

  /**
   * The edits that take the target back, or do it again. Other pages may have gone on since; where one of their steps stands on the target,
   * it is told which.
   */
  private async reversal(
    shotId: string,
    sent: Extract<SentChange, { role: 'undo' | 'redo' }>,
    transaction: Transaction,
  ): Promise<Pick<Change, 'label' | 'edits'>> {
    const rows = await ChangeRow.findAll({ where: { shotId }, attributes: LOG_FIELDS, order: [['revision', 'DESC']], limit: HISTORY, transaction });
    const log = rows.reverse().map(asEntry);
    const { done, undone } = standingOf(log);
    const target = (sent.role === 'undo' ? done : undone).find((entry) => entry.id === sent.target);
    if (!target) throw new Problem('history-moved', 'This step was taken back or done again on another page in the meantime.', 409);
    // What the last doing (or redoing) of the target changed is what its inverse takes back.
    const last = log.findLast((entry) =>
      sent.role === 'undo'
        ? entry.id === sent.target || (entry.target === sent.target && entry.role === 'redo')
        : entry.target === sent.target && entry.role === 'undo',
    );
    const row = last && (await ChangeRow.findOne({ where: { shotId, changeId: last.id }, transaction }));
    if (!row) throw new Problem('history-moved', 'This step can no longer be found.', 409);
    const edits = storedEdits(row.inverse);
    // What was made names all that is in it; its inverse only what is taken away.
    const under = [...storedEdits(row.edits), ...edits];
    const since = new Set(log.slice(log.indexOf(last) + 1).map((entry) => (entry.role === 'redo' ? entry.target : entry.id)));
    const later = done.filter((entry) => since.has(entry.id) && entry.id !== target.id);
    const made =
      later.length > 0
        ? await ChangeRow.findAll({ where: { shotId, changeId: later.map((entry) => entry.id) }, order: [['revision', 'ASC']], transaction })
        : [];
    const above = made.findLast((step) => standsOn(storedEdits(step.edits), under));
    if (above) {
      const whose = above.page === sent.page ? 'this page' : 'another page';
      throw new Problem(
        'stood-upon',
        `"${target.label}" cannot be ${sent.role === 'undo' ? 'taken back' : 'done again'}: "${above.label}", which ${whose} did since, changed the same. Take that back first${above.page === sent.page ? '' : ', on its page'}.`,
        409,
      );
    }
    return { label: target.label, edits };
  }

  /** Replaces the whole document (import), as one step that can be undone. */
  async replace(shotId: string, next: ShotDocument, page: string, changeId: string): Promise<LoggedChange> {
    const { document } = await this.load(shotId);
    const { plate } = document;
    if (next.plate.width !== plate.width || next.plate.height !== plate.height)
      throw new Problem(
        'other-size',
        `This document is for a plate of ${next.plate.width}×${next.plate.height}; this shot is ${plate.width}×${plate.height}.`,
        422,
      );
    const edits: Edit[] = [
      // What names other records goes first and comes last: lanes name subjects, parts name tracks.
      ...[...document.lanes, ...document.cast, ...document.tracks, ...document.notes, ...document.markers].map((r): Edit => ({ kind: 'remove', id: r.id })),
      ...(['tracks', 'cast', 'notes', 'markers', 'lanes'] as const).flatMap((parent) =>
        next[parent].map((record, index): Edit => ({ kind: 'insert', parent, index, record })),
      ),
    ];
    if (edits.length === 0) throw new Problem('empty-document', 'This document has nothing in it: no subject and no effect.', 422);
    return this.apply(shotId, { role: 'do', page, change: { id: changeId, label: 'Import document', edits } });
  }

  subscribe(shotId: string, listener: (change: LoggedChange) => void): () => void {
    this.events.on(shotId, listener);
    return () => this.events.off(shotId, listener);
  }

  /** Tells the pages of a shot, and those that show it, that it has other footage. */
  tellFootage(shotId: string): void {
    this.events.emit(footageOf(shotId));
    this.events.emit(ANY, shotId);
  }

  subscribeToFootage(shotId: string, listener: () => void): () => void {
    this.events.on(footageOf(shotId), listener);
    return () => this.events.off(footageOf(shotId), listener);
  }

  /** Tells of every shot that is changed. */
  subscribeToAll(listener: (shotId: string) => void): () => void {
    this.events.on(ANY, listener);
    return () => this.events.off(ANY, listener);
  }

  /** Says that a page has the shot open, and tells it which pages have, now and whenever that changes. Gives what ends it. */
  attend(shotId: string, page: string, listener: (pages: string[]) => void): () => void {
    const here = this.attending.get(shotId) ?? new Map<object, Attendant>();
    this.attending.set(shotId, here);
    const key = {};
    const tell = () => {
      const pages = [...new Set([...here.values()].map((a) => a.page))];
      for (const attendant of here.values()) attendant.listener(pages);
    };
    here.set(key, { page, listener });
    tell();
    return () => {
      here.delete(key);
      if (here.size === 0) this.attending.delete(shotId);
      tell();
    };
  }
}

const LOG_FIELDS = ['changeId', 'label', 'role', 'target', 'page'];

const asEntry = (row: ChangeRow): LogEntry => ({ id: row.changeId, label: row.label, role: row.role, target: row.target, page: row.page });

const asLogged = (row: ChangeRow): LoggedChange => ({
  ...asEntry(row),
  revision: row.revision,
  edits: storedEdits(row.edits),
});
