/**
 * Pictures for the viewer: frames of the plate and rendered views, from workers, through caches. The newest request is served
 * first; wishes it overtook are dropped before they start.
 */
import { proxy, type Remote, wrap } from 'comlink';
import type { Edit } from '~/core/document/edits.ts';
import { madeElsewhere } from '~/core/document/parts.ts';
import { pictureName } from '~/core/document/picture-name.ts';
import type { ShotDocument } from '~/core/document/schema.ts';
import type { Size } from '~/core/image/picture.ts';
import type { Step } from '../state/wait.ts';
import type { PlateWorker } from '../workers/plate-worker.ts';
import type { RenderedView, RenderRequest, RenderWorker } from '../workers/render-worker.ts';
import { BitmapCache } from './bitmap-cache.ts';

export type View = 'plate' | 'outline' | RenderedView;
export type Store = 'full' | 'proxy';

export interface PictureRequest {
  view: View;
  frame: number;
  subject: string | null;
  store: Store;
  /** Of the tint, #rrggbb. */
  colour?: string;
  /** The part shown alone. */
  solo?: string | null;
  /** Of the matte as it is shown. */
  gamma?: number;
  /** How the matte is looked at; `compared` changes with the state it is compared with. */
  judge?: 'plain' | 'flicker' | 'difference';
  compared?: string;
  /** Steps of the edge, and items, left out, as the view store names them. */
  without?: readonly string[];
}

type RenderedRequest = PictureRequest & { view: RenderedView };

const MEGABYTE = 1024 * 1024;
const PLATE_BYTES = 96 * MEGABYTE;
const RENDERED_BYTES = 152 * MEGABYTE;
const PLATE_WORKERS = 2;
/** Workers that make pictures: one for what is in sight, others for what comes while it plays. */
const RENDER_WORKERS = Math.max(2, Math.min(4, (globalThis.navigator?.hardwareConcurrency ?? 2) - 1));
/** Stands for any frame. */
const FRAME = -1;
/** Of states whose pictures are of no use once the next is there. */
const DRAFT = 'draft';
/** States whose order is known; older ones count as the oldest. */
const STATES = 500;
/** A key of a rendered picture: the state, and which view of which frame. */
const partsOf = (key: string): [state: string, what: string] => [key.slice(0, key.indexOf('/')), key.slice(key.indexOf('/') + 1)];
/** Milliseconds for which a hand has to rest until what it drags is shown at its full size. */
const REST = 150;

interface Task {
  key: string;
  /** Whether any worker may do it; others are for the first one, which knows what was painted. */
  anywhere: boolean;
  run(worker: number): Promise<ImageBitmap>;
}

/** A worker that makes pictures, started when it is first asked. */
interface Helper {
  worker: Worker;
  remote: Remote<RenderWorker>;
}

/** Hears of each task: its picture, or why there is none. */
type Done = (key: string, bitmap: ImageBitmap | null, problem: string | null) => void;

/** How much the newest task counts for the pace. */
const NEWEST = 0.2;

/** A few workers that always take the newest task; one task a key. */
class Lane {
  private readonly waiting: Task[] = [];
  private readonly busy: boolean[];
  private readonly inFlight = new Set<string>();
  private readonly depth: number;
  private readonly onDone: Done;
  /** Milliseconds that a task takes, the newest counting most; null before the first. */
  pace: number | null = null;
  constructor(workers: number, depth: number, onDone: Done) {
    this.busy = Array.from({ length: workers }, () => false);
    this.depth = depth;
    this.onDone = onDone;
  }

  /** Urgent tasks go to the head of the line; the line is cut behind `depth`. */
  ask(task: Task, urgent: boolean): void {
    if (this.inFlight.has(task.key)) return;
    const already = this.waiting.findIndex((t) => t.key === task.key);
    if (already >= 0) {
      if (!urgent) return;
      this.waiting.splice(already, 1);
    }
    if (urgent) this.waiting.unshift(task);
    else this.waiting.push(task);
    this.waiting.length = Math.min(this.waiting.length, this.depth);
    this.next();
  }

  /** These are next, in this order: what waited before and is not among them is dropped. */
  replace(tasks: readonly Task[]): void {
    this.waiting.length = 0;
    this.waiting.push(...tasks.filter((t) => !this.inFlight.has(t.key)).slice(0, this.depth));
    this.next();
  }

  clear(): void {
    this.waiting.length = 0;
  }

  /** The first task for which a worker is free, and that worker. */
  private nextTask(): [Task | null, number] {
    for (const [i, task] of this.waiting.entries()) {
      // The first worker is kept for what it alone can do, as long as others are free.
      const worker = task.anywhere ? this.busy.lastIndexOf(false) : this.busy[0] ? -1 : 0;
      if (worker >= 0) return [this.waiting.splice(i, 1)[0], worker];
    }
    return [null, -1];
  }

  private next(): void {
    const [task, worker] = this.nextTask();
    if (!task) return;
    this.busy[worker] = true;
    this.inFlight.add(task.key);
    const start = performance.now();
    task
      .run(worker)
      .then(
        (bitmap) => {
          const took = performance.now() - start;
          this.pace = this.pace === null ? took : this.pace + (took - this.pace) * NEWEST;
          this.onDone(task.key, bitmap, null);
        },
        (error: Error) => this.onDone(task.key, null, error.message || 'This picture could not be made.'),
      )
      .finally(() => {
        this.busy[worker] = false;
        this.inFlight.delete(task.key);
        this.next();
      });
    this.next();
  }
}

export class Pictures {
  readonly plateUrl: string;
  private readonly sizes: Record<Store, Size>;
  private readonly plateWorkers: { worker: Worker; remote: Remote<PlateWorker> }[];
  /** The first is there from the start, others from when they are first needed. */
  private readonly renderWorkers: Helper[] = [];
  private readonly startHelper: () => Helper;
  /** The one that is asked for anything but pictures. */
  readonly render: Remote<RenderWorker>;
  /** Whether something is being dragged, so that pictures are wanted quickly rather than large. */
  private quick = false;
  private resting: ReturnType<typeof setTimeout> | undefined;
  private readonly plates = new BitmapCache(PLATE_BYTES);
  private readonly rendered = new BitmapCache(RENDERED_BYTES);
  private readonly plateLane: Lane;
  private readonly renderLane: Lane;
  /** A name for all that decides what is rendered now; pictures of other states are kept under theirs. */
  private state = '';
  /** The states that there were, by the order in which they came up last. */
  private readonly order = new Map<string, number>();
  private orders = 0;
  /** Raised when pictures may come out otherwise though the document is the same: what Peels find has come, or what was missing. */
  private again = 0;
  private peels = 0;
  /** Raised when other shots that are shown may have changed. */
  private others = 0;
  private drafts = 0;
  /** The newest state that each view of each frame was rendered in. */
  private readonly newest = new Map<string, string>();
  private document: ShotDocument | null = null;
  private draft: Edit[] | null = null;
  /** Called when a picture has come in, or could not be had, and why not. */
  onArrival: (problem: string | null) => void = () => {};
  /** Called with what is being done for the picture that is rendered. */
  onStep: (step: Step) => void = () => {};
  /** Called with something for the artist to read. */
  onWords: (text: string) => void = () => {};

  constructor(plateId: string, frames: number, sizes: Record<Store, Size>) {
    this.plateUrl = `/plates/${plateId}`;
    this.sizes = sizes;
    this.plateWorkers = Array.from({ length: PLATE_WORKERS }, () => {
      const worker = new Worker(new URL('../workers/plate-worker.ts', import.meta.url), { type: 'module' });
      return { worker, remote: wrap<PlateWorker>(worker) };
    });
    this.startHelper = () => {
      const worker = new Worker(new URL('../workers/render-worker.ts', import.meta.url), { type: 'module' });
      const remote = wrap<RenderWorker>(worker);
      const first = this.renderWorkers.length === 0;
      void remote.open(
        `${location.origin}${this.plateUrl}`,
        frames,
        sizes.proxy,
        proxy(() => {
          this.peels++;
          this.outOfDate();
        }),
        proxy((text: string) => this.onWords(text)),
        proxy((step: Step) => {
          // What others do is for later.
          if (first) this.onStep(step);
        }),
      );
      if (this.document) {
        void remote.setDocument(this.document);
        void remote.setDraft(this.draft);
      }
      const helper = { worker, remote };
      this.renderWorkers.push(helper);
      return helper;
    };
    this.render = this.startHelper().remote;
    this.plateLane = new Lane(PLATE_WORKERS, 48, (key, bitmap, problem) => {
      if (bitmap) this.plates.put(key, bitmap);
      this.onArrival(problem);
    });
    this.renderLane = new Lane(RENDER_WORKERS, 12, (key, bitmap, problem) => {
      if (bitmap) {
        this.rendered.put(key, bitmap);
        const [state, what] = partsOf(key);
        const before = this.newest.get(what);
        if (before === undefined || (this.order.get(state) ?? 0) >= (this.order.get(before) ?? 0)) this.newest.set(what, state);
      }
      this.onArrival(problem);
    });
  }

  close(): void {
    for (const { worker } of this.plateWorkers) worker.terminate();
    for (const { worker } of this.renderWorkers) worker.terminate();
    clearTimeout(this.resting);
  }

  /** The document to render, and the edit in progress on top of it. Pictures of older states are let go. */
  setDocument(settled: ShotDocument, draft: Edit[] | null): void {
    const fresh = settled !== this.document;
    this.document = settled;
    this.draft = draft;
    for (const { remote } of this.renderWorkers) {
      if (fresh) void remote.setDocument(settled);
      void remote.setDraft(draft);
    }
    clearTimeout(this.resting);
    this.quick = draft !== null;
    if (this.quick)
      this.resting = setTimeout(() => {
        this.quick = false;
        this.outOfDate();
      }, REST);
    this.renderLane.clear();
    this.nameState();
    // The newest picture of everything is kept until a newer one comes, so that nothing flickers while a drag is ahead of it.
    this.rendered.retain((key) => {
      const [state, what] = partsOf(key);
      return !state.startsWith(DRAFT) || state === this.state || this.newest.get(what) === state;
    });
  }

  private nameState(): void {
    const { document } = this;
    const settled = document && this.draft === null ? pictureName(document) : `${DRAFT}${++this.drafts}`;
    const found = document?.cast.some((s) => s.parts.some((p) => p.type === 'peel')) ? this.peels : 0;
    this.state = `${settled}-${found}-${this.showsOthers ? `${this.others}-` : ''}${this.again}`;
    this.order.delete(this.state);
    this.order.set(this.state, ++this.orders);
    for (const old of this.order.keys()) {
      if (this.order.size <= STATES) break;
      this.order.delete(old);
    }
  }

  /** More of what Peels find has come: all rendered pictures may be out of date. */
  peelsCame(): void {
    for (const { remote } of this.renderWorkers) void remote.peelsCame();
    this.peels++;
    this.outOfDate();
  }

  /** Whether the document shows something of other shots. */
  get showsOthers(): boolean {
    return this.document !== null && madeElsewhere(this.document).length > 0;
  }

  /** These other shots may have changed. */
  otherShotsChanged(shots: Iterable<string>): void {
    for (const shot of shots) for (const { remote } of this.renderWorkers) void remote.otherChanged(shot);
    if (!this.showsOthers) return;
    this.others++;
    this.outOfDate();
  }

  /** Asks anew for what could not be had. */
  tryAgain(): void {
    this.again++;
    this.outOfDate();
  }

  private outOfDate(): void {
    this.nameState();
    this.renderLane.clear();
    this.onArrival(null);
  }

  private renderKey(request: PictureRequest, state = this.state): string {
    const { view, frame, subject, store, colour, solo, gamma = 1, without = [], judge = 'plain', compared = '' } = request;
    const look = view === 'tint' ? colour : view === 'matte' ? `${gamma}${judge}${judge === 'difference' ? compared : ''}` : '';
    return `${state}/${view}/${view === 'composed' ? '' : subject}/${store}/${frame}/${solo ?? ''}/${look}/${without.join()}`;
  }
  private plateKey = (frame: number, store: Store): string => `${this.plateUrl}/${store}/${frame}`;

  plate(frame: number, store: Store): ImageBitmap | undefined {
    return this.plates.get(this.plateKey(frame, store));
  }

  /** The rendered picture as the document is now; with `stale`, the newest of an earlier state will do. */
  view(request: PictureRequest, stale = false): ImageBitmap | undefined {
    const now = this.rendered.get(this.renderKey(request));
    if (now || !stale) return now;
    const key = this.renderKey(request);
    const state = this.newest.get(partsOf(key)[1]);
    return state === undefined ? undefined : this.rendered.get(this.renderKey(request, state));
  }

  /** A frame of another plate, at proxy size; asked for where it is not here yet. */
  otherPlate(plateId: string, frame: number): ImageBitmap | undefined {
    const key = `/plates/${plateId}/proxy/${frame}`;
    const found = this.plates.get(key);
    if (!found) this.plateLane.ask({ key, anywhere: true, run: (w) => this.plateWorkers[w].remote.load(`${location.origin}${key}`) }, true);
    return found;
  }

  hasPlate = (frame: number, store: Store): boolean => this.plates.has(this.plateKey(frame, store));
  has = (request: PictureRequest): boolean =>
    request.view === 'outline' || (request.view === 'plate' ? this.hasPlate(request.frame, request.store) : this.rendered.has(this.renderKey(request)));

  /** A name that changes with what a request shows; null where that is not here. */
  nameOf(request: PictureRequest): string | null {
    return this.has(request)
      ? `${this.renderKey(request)}/${request.view === 'plate' || request.view === 'tint' ? this.hasPlate(request.frame, request.store) : ''}`
      : null;
  }

  /** Frames, rising, on which a rendered view is here as the document is now. */
  ready(request: PictureRequest): number[] {
    // What a key says behind the frame is the same on all of them.
    const [before, after] = this.renderKey({ ...request, frame: FRAME }).split(`/${FRAME}/`);
    const frames: number[] = [];
    for (const key of this.rendered.keys())
      if (key.startsWith(`${before}/`) && key.endsWith(`/${after}`)) frames.push(Number(key.slice(before.length + 1, key.length - after.length - 1)));
    return frames.sort((a, b) => a - b);
  }

  /** The size at which a view is made: half of it for a picture that a hand is changing. */
  private sizeOf(view: RenderedView, store: Store): Size {
    const { width, height } = this.sizes[store];
    return this.quick && view === 'composed' ? { width: Math.max(1, Math.round(width / 2)), height: Math.max(1, Math.round(height / 2)) } : { width, height };
  }

  /** The worker of that number; those before it are started too. */
  private helper(number: number): Remote<RenderWorker> {
    while (this.renderWorkers.length <= number) this.startHelper();
    return this.renderWorkers[number].remote;
  }

  /** Asks for what a request needs and does not have yet. */
  ask(request: PictureRequest, urgent: boolean): void {
    if (request.view === 'plate' || request.view === 'tint') {
      const key = this.plateKey(request.frame, request.store);
      if (!this.plates.has(key)) this.plateLane.ask({ key, anywhere: true, run: (w) => this.plateWorkers[w].remote.load(`${location.origin}${key}`) }, urgent);
    }
    const task = this.missing(request, urgent);
    if (task) this.renderLane.ask(task, urgent);
  }

  /** The rendered pictures that are wanted next, in this order; others that were wanted and are not begun are dropped. */
  wish(requests: readonly PictureRequest[]): void {
    this.renderLane.replace(requests.flatMap((request) => this.missing(request, false) ?? []));
  }

  /** Milliseconds that a rendered picture took of late; null where none was made yet. */
  get pace(): number | null {
    return this.renderLane.pace;
  }

  /** The task that makes a rendered picture; null where it is here, or nothing has to be rendered. */
  private missing(request: PictureRequest, urgent: boolean): Task | null {
    const { view } = request;
    if (view === 'plate' || view === 'outline') return null;
    const key = this.renderKey(request);
    if (this.rendered.has(key)) return null;
    return { key, anywhere: view === 'composed' && !urgent, run: (w) => this.helper(w).render(this.orderOf({ ...request, view })) };
  }

  /** What a worker is told of a rendered picture, as the document is now: what waited for another is dropped by then. */
  private orderOf({ view, subject, frame, store, colour = '#ffffff', solo = null, gamma = 1, without = [], judge = 'plain' }: RenderedRequest): RenderRequest {
    const size = this.sizeOf(view, store);
    // What other shots look like is not in its name.
    const keep = view === 'composed' && this.draft === null && this.document !== null && this.document.lanes.length > 0 && !this.showsOthers;
    const shown = [store, frame, solo ?? '', without.join()].map((of) => encodeURIComponent(of)).join('/');
    const name = keep ? `${pictureName(this.document as ShotDocument)}${this.plateUrl}/${size.width}x${size.height}/${shown}` : null;
    return { view, subject, frame, size, store, colour, solo, gamma, judge, without: [...without], name };
  }
}
