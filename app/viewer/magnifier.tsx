/** A magnified round picture of what is under the pointer while something is dragged. */
import { type RefObject, useEffect, useRef } from 'react';
import { shapeAt } from '~/core/document/follow.ts';
import type { Shape } from '~/core/path/path.ts';
import { editablePaths } from '../edits/path-edits.ts';
import { useShot } from '../state/shot-context.tsx';
import type { ViewTransform } from '../state/view-transform.ts';
import { useCurrentSubject, useView } from '../state/workbench-context.tsx';
import { tracePath } from './curve-path.ts';

const SIZE = 132;
const TIMES = 4;

/** Whether a curve can pass through a square of `side` screen pixels: it stays within the hull of its points and handles. */
function showsIn(shape: Shape, { scale, x, y }: ViewTransform, side: number): boolean {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const v of shape) {
    left = Math.min(left, v.x, v.x + v.inX, v.x + v.outX);
    top = Math.min(top, v.y, v.y + v.inY, v.y + v.outY);
    right = Math.max(right, v.x, v.x + v.inX, v.x + v.outX);
    bottom = Math.max(bottom, v.y, v.y + v.inY, v.y + v.outY);
  }
  return right * scale + x > 0 && bottom * scale + y > 0 && left * scale + x < side && top * scale + y < side;
}

export function Magnifier({
  source,
  at,
  viewTransform,
  viewport,
}: {
  source: RefObject<HTMLCanvasElement | null>;
  at: { x: number; y: number };
  viewTransform: ViewTransform;
  viewport: { width: number; height: number };
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const document = useShot((s) => s.document);
  const selected = useShot((s) => s.selected);
  const frame = useView((s) => s.frame);
  const subject = useCurrentSubject();
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !source.current) return;
    const density = window.devicePixelRatio;
    const side = SIZE / TIMES;
    context.imageSmoothingEnabled = false;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.fillStyle = '#161616';
    context.fillRect(0, 0, SIZE, SIZE);
    context.drawImage(source.current, (at.x - side / 2) * density, (at.y - side / 2) * density, side * density, side * density, 0, 0, SIZE, SIZE);
    const large = { scale: viewTransform.scale * TIMES, x: SIZE / 2 + (viewTransform.x - at.x) * TIMES, y: SIZE / 2 + (viewTransform.y - at.y) * TIMES };
    for (const { path } of editablePaths(document, selected, subject, frame)) {
      const shape = shapeAt(path, frame);
      if (!showsIn(shape, large, SIZE)) continue;
      tracePath(context, shape, path.closed, large);
      for (const [colour, width] of [
        ['rgba(0,0,0,0.6)', 3],
        ['#fff', 1.2],
      ] as const) {
        context.strokeStyle = colour;
        context.lineWidth = width;
        context.stroke();
      }
    }
    context.strokeStyle = '#fff';
    context.lineWidth = 1;
    context.beginPath();
    context.moveTo(SIZE / 2 - 6, SIZE / 2 + 0.5);
    context.lineTo(SIZE / 2 + 6, SIZE / 2 + 0.5);
    context.moveTo(SIZE / 2 + 0.5, SIZE / 2 - 6);
    context.lineTo(SIZE / 2 + 0.5, SIZE / 2 + 6);
    context.stroke();
  });
  // Away from the hand: above it to the left, or below and right where there is no room.
  const left = at.x - SIZE - 28 > 0 ? at.x - SIZE - 28 : Math.min(viewport.width - SIZE, at.x + 28);
  const top = at.y - SIZE - 28 > 0 ? at.y - SIZE - 28 : Math.min(viewport.height - SIZE, at.y + 28);
  return (
    <canvas
      ref={canvas}
      width={SIZE}
      height={SIZE}
      aria-hidden
      data-magnifier
      className="pointer-events-none absolute rounded-full border border-edge"
      style={{ left, top }}
    />
  );
}
