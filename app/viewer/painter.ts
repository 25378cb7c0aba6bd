/** Paints the picture of a view on the canvas. Curves are not its business: they lie above, and never wait for it. */
import type { PictureRequest, Pictures } from '../frame/pictures.ts';
import type { Ground } from '../state/view-store.ts';
import type { ViewTransform } from '../state/view-transform.ts';
import type { Shown } from '../state/wait.ts';

export interface Scene {
  request: PictureRequest;
  plate: { width: number; height: number };
  viewTransform: ViewTransform;
  ground: Ground;
  groundColour: string;
  groundPlate: string | null;
  /** Frames whose mattes shine through the tint: the keys round this one that the onion skin shows. */
  onion: number[];
  /** Device pixels for one CSS pixel. */
  density: number;
}

const CHECK = 12;
const CHECK_LIGHT = '#6a6a6a';
const CHECK_DARK = '#525252';
/** From this many screen pixels a plate pixel on, pixels are shown as squares. */
const SQUARES_FROM = 3;
const TINT_STRENGTH = 0.5;
const ONION_STRENGTH = 0.14;

const FLAT: Partial<Record<Ground, string>> = { white: '#fff', black: '#000', grey: '#777' };

function paintGround(context: CanvasRenderingContext2D, ground: Ground, own: string, x: number, y: number, width: number, height: number): void {
  context.fillStyle = FLAT[ground] ?? (ground === 'colour' ? own : CHECK_DARK);
  context.fillRect(x, y, width, height);
  if (ground !== 'checker') return;
  context.save();
  context.beginPath();
  context.rect(x, y, width, height);
  context.clip();
  context.fillStyle = CHECK_LIGHT;
  for (let row = 0; row * CHECK < height; row++)
    for (let column = row % 2; column * CHECK < width; column += 2) context.fillRect(x + column * CHECK, y + row * CHECK, CHECK, CHECK);
  context.restore();
}

/** For looking at curves alone: the plate's place, and nothing in it. */
function paintOutlineGround(
  canvas: HTMLCanvasElement,
  context: CanvasRenderingContext2D,
  viewTransform: ViewTransform,
  plate: Scene['plate'],
  density: number,
): void {
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.fillStyle = '#161616';
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.setTransform(density, 0, 0, density, 0, 0);
  context.fillStyle = '#2a2a2a';
  context.fillRect(viewTransform.x, viewTransform.y, plate.width * viewTransform.scale, plate.height * viewTransform.scale);
}

/** Paints what there is, and gives what that is against what was wished for. */
export function paint(
  canvas: HTMLCanvasElement,
  pictures: Pictures,
  { request, plate, viewTransform, ground, groundColour, groundPlate, onion, density }: Scene,
): Shown {
  const context = canvas.getContext('2d') as CanvasRenderingContext2D;
  if (request.view === 'outline') {
    paintOutlineGround(canvas, context, viewTransform, plate, density);
    return 'whole';
  }
  const needsPlate = request.view === 'plate' || request.view === 'tint';
  const other = request.store === 'full' ? 'proxy' : 'full';
  const plateBitmap = needsPlate ? (pictures.plate(request.frame, request.store) ?? pictures.plate(request.frame, other)) : undefined;
  const exactView = request.view === 'plate' ? undefined : pictures.view(request);
  const viewBitmap = exactView ?? (request.view === 'plate' ? undefined : (pictures.view(request, true) ?? pictures.view({ ...request, store: other }, true)));
  // The picture before stays until this one has something to show.
  if (needsPlate ? !plateBitmap : !viewBitmap) return 'other';
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.fillStyle = '#161616';
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.setTransform(density, 0, 0, density, 0, 0);
  context.imageSmoothingEnabled = viewTransform.scale < SQUARES_FROM;
  // Better smoothing costs much, and shows only where several pixels become one.
  const perPixel = (plate.width * viewTransform.scale * density) / ((plateBitmap ?? viewBitmap) as ImageBitmap).width;
  context.imageSmoothingQuality = perPixel < 0.6 ? 'medium' : 'low';
  const width = plate.width * viewTransform.scale;
  const height = plate.height * viewTransform.scale;
  if (request.view === 'cutout') {
    paintGround(context, ground, groundColour, viewTransform.x, viewTransform.y, width, height);
    const other = ground === 'plate' && groundPlate ? (pictures.otherPlate(groundPlate, request.frame) ?? pictures.otherPlate(groundPlate, 0)) : undefined;
    if (other) context.drawImage(other, viewTransform.x, viewTransform.y, width, height);
  }
  if (plateBitmap) context.drawImage(plateBitmap, viewTransform.x, viewTransform.y, width, height);
  if (request.view === 'tint')
    for (const frame of onion) {
      const skin: PictureRequest = { ...request, frame, store: 'proxy', colour: '#ffffff' };
      const other = pictures.view(skin, true);
      if (!other) pictures.ask(skin, false);
      else {
        context.globalAlpha = ONION_STRENGTH;
        context.drawImage(other, viewTransform.x, viewTransform.y, width, height);
        context.globalAlpha = 1;
      }
    }
  if (viewBitmap) {
    context.globalAlpha = request.view === 'tint' ? TINT_STRENGTH : 1;
    context.drawImage(viewBitmap, viewTransform.x, viewTransform.y, width, height);
    context.globalAlpha = 1;
  }
  const hasView = request.view === 'plate' || exactView !== undefined;
  if (hasView && (!needsPlate || pictures.hasPlate(request.frame, request.store))) return 'whole';
  if (!viewBitmap && !hasView) return 'bare';
  return hasView || pictures.view({ ...request, store: other }) ? 'coarse' : 'older';
}
