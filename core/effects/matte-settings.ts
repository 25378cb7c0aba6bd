/** What of a matte counts, for an item that has one: settings beside those of its kind. */
import type { Gray, Rgba } from '../image/picture.ts';
import { lumaAt } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { curveOf, lookUp, tableOf } from '../math/curve.ts';
import { choice, curve, type Descriptions, grouped, number, type ValuesOf } from './settings.ts';

/** Of footage: what shows before its first and after its last frame. */
const ENDS = { hold: 'Its last frame stays', nothing: 'Nothing', repeat: 'Begins again', 'to-and-fro': 'To and fro' } as const;

/** What its settings stand under. */
export const MATTE_GROUP = 'Matte';

export const MATTE = grouped(MATTE_GROUP, {
  matteChannel: choice('Channel', 'What of the matte counts.', { luma: 'Luma', alpha: 'Alpha', red: 'Red', green: 'Green', blue: 'Blue' }),
  matteInverted: choice('Shows', 'Where it is seen.', { bright: 'Where it is bright', dark: 'Where it is dark' }),
  matteBlack: number('Black', 'What of the matte is as dark as this, or darker, is nothing.', '%', [0, 100, 0.5], 0),
  matteWhite: number('White', 'What of it is as bright as this, or brighter, is all.', '%', [0, 100, 0.5], 100),
  matteGamma: number('Gamma', 'Above 1 shows more of what lies between, below 1 less.', '', [0.1, 10, 0.01], 1, [0.1, 4]),
  matteCurve: curve('Curve', 'How much is shown, from dark to bright.'),
  matteStart: {
    ...number('Starts on', 'Of footage: the frame of this shot on which its first frame counts.', 'fr', [-1_000_000, 1_000_000, 1], 0, [-200, 200]),
    frames: 'place' as const,
  },
  matteEnds: choice('At its ends', 'Of footage: what counts before its first and after its last frame.', ENDS),
}) satisfies Descriptions;

type MatteValues = ValuesOf<typeof MATTE>;

/** How much a value of a matte shows. */
export function matteTable(v: MatteValues): Float32Array {
  const drawn = curveOf(v.matteCurve);
  const [black, white] = [v.matteBlack / 100, v.matteWhite / 100];
  const shown = (x: number) => drawn(clamp((x - black) / Math.max(1e-4, white - black), 0, 1) ** (1 / v.matteGamma));
  return tableOf((x) => (v.matteInverted === 'dark' ? 1 - shown(x) : shown(x)));
}

/** The channel of a premultiplied picture that counts, seen over black. */
export function channelOf({ width, height, data }: Rgba, channel: MatteValues['matteChannel'], out: Gray, left = 0, top = 0): void {
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0, p = (y + top) * out.width + left; x < width; x++, p++, i += 4)
      out.data[p] = channel === 'luma' ? lumaAt(data, i) : data[i + (channel === 'alpha' ? 3 : channel === 'red' ? 0 : channel === 'green' ? 1 : 2)];
}

/** Sends the values of a matte through a table, in place. */
export function throughTable({ data }: Gray, table: Float32Array): void {
  for (let p = 0; p < data.length; p++) data[p] = lookUp(table, clamp(data[p], 0, 1));
}
