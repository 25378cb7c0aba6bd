/** Curves as SVG: one file a frame, or one that moves (SMIL animate), and back. */
import { DOMParser, type Element } from '@xmldom/xmldom';
import svgpath from 'svgpath';
import type { Path } from '~/core/document/schema.ts';
import type { Size } from '~/core/image/picture.ts';
import { shapeOver } from '~/core/path/between.ts';
import { corner, MAX_VERTICES, type Shape, segment, type Vertex } from '~/core/path/path.ts';
import { ellipse, rectangle } from '~/core/path/ready-made.ts';

export interface SvgCurve {
  shape: Shape;
  closed: boolean;
}

/** Why a file cannot be read, in words for the artist. */
export class SvgError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'SvgError';
  }
}

/** The longest file that is looked at, in characters. */
const LONGEST = 20_000_000;
const FARTHEST = 1e6;

const round = (v: number): string => String(Math.round(v * 1e6) / 1e6);

/** Path data of a shape: cubics, straight lines where neither end has a handle. */
export function pathData(shape: Shape, closed: boolean): string {
  if (shape.length === 0) return '';
  const out = [`M${round(shape[0].x)} ${round(shape[0].y)}`];
  const segments = closed ? shape.length : shape.length - 1;
  for (let i = 0; i < segments; i++) {
    const s = segment(shape, i);
    out.push(`C${s.slice(2).map(round).join(' ')}`);
  }
  if (closed) out.push('Z');
  return out.join('');
}

const escaped = (text: string): string => text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);

const file = (name: string, { width, height }: Size, body: string): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">\n<title>${escaped(name)}</title>\n<g fill="#fff" fill-rule="evenodd">\n${body}\n</g>\n</svg>\n`;

/** The curves as they are on a frame. */
export const svgOfFrame = (name: string, size: Size, paths: readonly Path[], frame: number): string =>
  file(name, size, paths.map((p) => `<path d="${pathData(shapeOver(p.shape, p.between, p.closed, frame), p.closed)}"/>`).join('\n'));

/** All frames in one file that plays: the path data of every frame, held for its time. */
export function svgAnimated(name: string, size: Size, paths: readonly Path[], frames: number, framesPerSecond: number): string {
  const seconds = round(frames / framesPerSecond);
  const times = Array.from({ length: frames }, (_, f) => round(f / frames)).join(';');
  const body = paths.map((p) => {
    const data = Array.from({ length: frames }, (_, f) => pathData(shapeOver(p.shape, p.between, p.closed, f), p.closed));
    return `<path d="${data[0]}"><animate attributeName="d" calcMode="discrete" dur="${seconds}s" repeatCount="indefinite" keyTimes="${times}" values="${data.join(';')}"/></path>`;
  });
  return file(name, size, body.join('\n'));
}

const numbers = (element: Element, ...names: string[]): number[] =>
  names.map((n) => {
    const value = Number.parseFloat(element.getAttribute(n) ?? '0');
    return Number.isFinite(value) ? value : 0;
  });

/** Path data of a basic shape of SVG; null for other elements. */
function dataOf(element: Element): string | null {
  switch (element.localName) {
    case 'path':
      return element.getAttribute('d');
    case 'rect': {
      const [x, y, w, h, rx, ry] = numbers(element, 'x', 'y', 'width', 'height', 'rx', 'ry');
      return pathData(rectangle(x, y, w, h, Math.max(rx, ry)), true);
    }
    case 'circle': {
      const [x, y, r] = numbers(element, 'cx', 'cy', 'r');
      return pathData(ellipse(x, y, r, r), true);
    }
    case 'ellipse': {
      const [x, y, rx, ry] = numbers(element, 'cx', 'cy', 'rx', 'ry');
      return pathData(ellipse(x, y, rx, ry), true);
    }
    case 'polygon':
    case 'polyline': {
      const points = (element.getAttribute('points') ?? '')
        .trim()
        .split(/[\s,]+/)
        .map(Number);
      if (points.length < 4 || points.some((v) => !Number.isFinite(v))) return null;
      const pairs = Array.from({ length: points.length >> 1 }, (_, i) => `${points[2 * i]} ${points[2 * i + 1]}`);
      return `M${pairs.join('L')}${element.localName === 'polygon' ? 'Z' : ''}`;
    }
    default:
      return null;
  }
}

/** The transforms of an element and of all that hold it, outermost first. */
function transformsOf(element: Element): string {
  const out: string[] = [];
  for (let node: Element | null = element; node && node.nodeType === 1; node = node.parentNode as Element | null) {
    const own = node.getAttribute('transform');
    if (own) out.unshift(own);
  }
  return out.join(' ');
}

/** Curves of one path element: a sub-path each. */
function curvesOf(data: string, transform: string): SvgCurve[] {
  const parsed = svgpath(data).transform(transform).abs().unshort().unarc();
  const fault = (parsed as unknown as { err?: string }).err;
  if (fault) throw new SvgError(`A path in this file is not written as SVG wants it: ${fault}`);
  const curves: SvgCurve[] = [];
  let vertices: Vertex[] = [];
  let startX = 0;
  let startY = 0;
  const finish = (closed: boolean) => {
    const last = vertices[vertices.length - 1];
    // The last point of a closed curve on its first one is that one.
    if (closed && vertices.length > 1 && Math.abs(last.x - vertices[0].x) < 1e-6 && Math.abs(last.y - vertices[0].y) < 1e-6) {
      vertices[0] = { ...vertices[0], inX: last.inX, inY: last.inY };
      vertices.pop();
    }
    if (vertices.length > 1) curves.push({ shape: vertices, closed });
    vertices = [];
  };
  const add = (x: number, y: number, c1?: [number, number], c2?: [number, number]) => {
    if (vertices.length === 0) vertices.push(corner(startX, startY));
    const last = vertices[vertices.length - 1];
    if (c1) Object.assign(last, { outX: c1[0] - last.x, outY: c1[1] - last.y });
    vertices.push({ ...corner(x, y), ...(c2 ? { inX: c2[0] - x, inY: c2[1] - y } : {}) });
  };
  parsed.iterate(([command, ...v]: [string, ...number[]], _index: number, x: number, y: number) => {
    if (v.some((n) => !Number.isFinite(n) || Math.abs(n) > FARTHEST))
      throw new SvgError('This file has positions that are no numbers, or farther off than any picture reaches.');
    switch (command) {
      case 'M':
        finish(false);
        [startX, startY] = [v[0], v[1]];
        break;
      case 'L':
        add(v[0], v[1]);
        break;
      case 'H':
        add(v[0], y);
        break;
      case 'V':
        add(x, v[0]);
        break;
      case 'C':
        add(v[4], v[5], [v[0], v[1]], [v[2], v[3]]);
        break;
      case 'Q':
        // A quadratic is a cubic with controls at two thirds.
        add(v[2], v[3], [x + ((v[0] - x) * 2) / 3, y + ((v[1] - y) * 2) / 3], [v[2] + ((v[0] - v[2]) * 2) / 3, v[3] + ((v[1] - v[3]) * 2) / 3]);
        break;
      case 'Z':
        finish(true);
        break;
    }
    if (vertices.length > MAX_VERTICES) throw new SvgError(`A curve in this file has more than ${MAX_VERTICES} points. Simplify it first.`);
  });
  finish(false);
  return curves;
}

/**
 * The curves of an SVG file in its user units, taken as plate pixels. Throws SvgError with what is wrong and what to do.
 */
export function readSvg(text: string): SvgCurve[] {
  if (text.length > LONGEST) throw new SvgError('This file is too large to be curves. Simplify it first.');
  const faults: string[] = [];
  let root: Element | null = null;
  try {
    const parser = new DOMParser({ onError: (level, message) => level !== 'warning' && faults.push(message) });
    root = parser.parseFromString(text, 'image/svg+xml').documentElement;
  } catch {
    faults.push('it is cut off or not XML');
  }
  if (!root || faults.length > 0 || root.localName !== 'svg') throw new SvgError('This is not a whole SVG file. Export it again as plain SVG.');
  const curves: SvgCurve[] = [];
  const visit = (element: Element, depth: number) => {
    if (depth > 200) throw new SvgError('This file is nested too deeply.');
    // What is only defined, or clips, is not drawn.
    if (element.localName === 'defs' || element.localName === 'clipPath' || element.localName === 'mask' || element.localName === 'symbol') return;
    const data = dataOf(element);
    if (data) curves.push(...curvesOf(data, transformsOf(element)));
    for (let child = element.firstChild; child; child = child.nextSibling) if (child.nodeType === 1) visit(child as Element, depth + 1);
  };
  visit(root, 0);
  if (curves.length === 0) throw new SvgError('There are no curves in this file. Text and pictures have to be turned into paths first.');
  if (curves.length > 200) throw new SvgError(`This file has ${curves.length} curves; a part holds 200. Join or leave some out first.`);
  return curves;
}
