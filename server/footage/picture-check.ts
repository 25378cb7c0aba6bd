/**
 * Whether a picture file is what its name says and is there to its end. Decoders make something of what is cut off and say
 * nothing; so each kind is held to what its own format promises: checksums, offsets, lengths, or a strict decode.
 */
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { crc32 } from 'node:zlib';
import sharp from 'sharp';
import { clamp } from '../../core/math/clamp.ts';

/** What there is of a sound picture, pixels as stored; `orientation` as Exif numbers them, 1 upright. */
interface SoundPicture {
  width: number;
  height: number;
  orientation: number;
}
/** In words that follow a file's name: "is cut off". */
export interface DamagedPicture {
  damage: string;
}
export type PictureCheck = SoundPicture | DamagedPicture;

export const isDamaged = (check: PictureCheck): check is DamagedPicture => 'damage' in check;

const CUT_OFF = { damage: 'is cut off' };
const DAMAGED = { damage: 'is damaged' };
const notA = (kind: string) => ({ damage: `is no ${kind} file, though its name says so` });
const upright = (width: number, height: number): PictureCheck => (width > 0 && height > 0 ? { width, height, orientation: 1 } : DAMAGED);

type Check = (bytes: Buffer) => PictureCheck | Promise<PictureCheck>;

/** ISO/IEC 15948: every chunk has its own checksum, and the last one is called IEND. */
const checkPng: Check = (bytes) => {
  if (!bytes.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]))) return notA('PNG');
  for (let at = 8; ; ) {
    if (at + 12 > bytes.length) return CUT_OFF;
    const length = bytes.readUInt32BE(at);
    const end = at + 12 + length;
    const type = bytes.toString('latin1', at + 4, at + 8);
    if (end > bytes.length) return /^[A-Za-z]{4}$/.test(type) ? CUT_OFF : DAMAGED;
    if (crc32(bytes.subarray(at + 4, end - 4)) !== bytes.readUInt32BE(end - 4)) return DAMAGED;
    if (type === 'IEND') return upright(bytes.readUInt32BE(16), bytes.readUInt32BE(20));
    at = end;
  }
};

/** What a decoder warns of that leaves the picture as it was meant. */
const HARMLESS = /extraneous bytes|unknown field|ICC|profile|Exif/i;

/** Decodes all of it, strictly, into a small picture: what is compressed is read to its end all the same. */
const strictly =
  (kind: string, magic: (bytes: Buffer) => boolean): Check =>
  async (bytes) => {
    if (!magic(bytes)) return notA(kind);
    const open = (failOn: 'warning' | 'error') => sharp(bytes, { failOn, limitInputPixels: false });
    try {
      const { width = 0, height = 0, orientation = 1 } = await open('error').metadata();
      const small = { width: Math.max(1, Math.ceil(width / 8)), height: Math.max(1, Math.ceil(height / 8)), fit: 'fill' as const, kernel: 'nearest' as const };
      await open('warning')
        .resize(small)
        .raw()
        .toBuffer()
        .catch(async (error: Error) => {
          if (!HARMLESS.test(error.message)) throw error;
          await open('error').resize(small).raw().toBuffer();
        });
      return { width, height, orientation: clamp(orientation, 1, 8) };
    } catch (error) {
      return /premature end|truncated|unexpected end|out of order read|read error|not enough data/i.test((error as Error).message) ? CUT_OFF : DAMAGED;
    }
  };

const startsWith =
  (text: string, at = 0) =>
  (bytes: Buffer) =>
    bytes.toString('latin1', at, at + text.length) === text;

/** The scan of a JPEG ends with a marker of its own (ITU-T T.81, B.1.1.3); a decoder puts one where there is none. */
const checkJpeg: Check = async (bytes) => {
  const isJpeg = bytes[0] === 0xff && bytes[1] === 0xd8;
  if (isJpeg && bytes.lastIndexOf(Buffer.from([0xff, 0xd9])) < 0) return CUT_OFF;
  return strictly('JPEG', () => isJpeg)(bytes);
};

/** Lines that are compressed together, by the number of the compression (OpenEXR file layout). */
const EXR_LINES = [1, 1, 1, 16, 32, 16, 32, 32, 32, 256];

/** OpenEXR: the table after the header says where each block lies; tiles and parts are left to the decoder. */
const checkExr: Check = (bytes) => {
  if (bytes.length < 8 || bytes.readUInt32LE(0) !== 0x01312f76) return notA('EXR');
  const textAt = (at: number) => bytes.toString('latin1', at, bytes.indexOf(0, at));
  const isPlain = (bytes.readUInt32LE(4) & 0x1a00) === 0;
  let [at, window, lines] = [8, null as number[] | null, 1];
  while (bytes[at] !== 0) {
    const name = textAt(at);
    const type = textAt(at + name.length + 1);
    const value = at + name.length + type.length + 6;
    if (at + name.length >= bytes.length || value > bytes.length) return CUT_OFF;
    const size = bytes.readUInt32LE(value - 4);
    if (value + size > bytes.length) return CUT_OFF;
    if (name === 'dataWindow' && size === 16) window = [0, 4, 8, 12].map((o) => bytes.readInt32LE(value + o));
    if (name === 'compression') lines = EXR_LINES[bytes[value]] ?? 1;
    at = value + size;
    if (at >= bytes.length) return CUT_OFF;
  }
  if (!window) return DAMAGED;
  const [width, height] = [window[2] - window[0] + 1, window[3] - window[1] + 1];
  const table = at + 1;
  const blocks = isPlain ? Math.ceil(height / lines) : 0;
  if (table + 8 * blocks > bytes.length) return CUT_OFF;
  for (let i = 0; i < blocks; i++) {
    const block = Number(bytes.readBigUInt64LE(table + 8 * i));
    // A writer that was stopped leaves the places of what it did not come to at 0.
    if (block === 0) return CUT_OFF;
    if (block + 8 > bytes.length || block + 8 + bytes.readUInt32LE(block + 4) > bytes.length) return CUT_OFF;
  }
  return upright(width, height);
};

/** SMPTE ST 268: where the picture begins, its size and its bits are in the header. */
const checkDpx: Check = (bytes) => {
  const big = startsWith('SDPX')(bytes);
  if (!big && !startsWith('XPDS')(bytes)) return notA('DPX');
  if (bytes.length < 808) return CUT_OFF;
  const u32 = (at: number) => (big ? bytes.readUInt32BE(at) : bytes.readUInt32LE(at));
  const [offset, width, height] = [u32(4), u32(772), u32(776)];
  const channels = { 50: 3, 51: 4, 52: 4 }[bytes[800]] ?? 1;
  const bits = bytes[803];
  // Packed as tightly as can be: what is padded is longer.
  return offset + Math.floor((width * height * channels * bits) / 8) > bytes.length ? CUT_OFF : upright(width, height);
};

const checkBmp: Check = (bytes) => {
  if (!startsWith('BM')(bytes)) return notA('BMP');
  if (bytes.length < 26) return CUT_OFF;
  const [width, height] = [Math.abs(bytes.readInt32LE(18)), Math.abs(bytes.readInt32LE(22))];
  return Math.min(bytes.readUInt32LE(2), 2 ** 31) > bytes.length ? CUT_OFF : upright(width, height);
};

const CHECKS: Record<string, Check> = {
  png: checkPng,
  jpg: checkJpeg,
  jpeg: checkJpeg,
  tif: strictly('TIFF', (b) => /^(II[*+]\0|MM\0[*+])/.test(b.toString('latin1', 0, 4))),
  tiff: strictly('TIFF', (b) => /^(II[*+]\0|MM\0[*+])/.test(b.toString('latin1', 0, 4))),
  webp: strictly('WebP', (b) => startsWith('RIFF')(b) && startsWith('WEBP', 8)(b)),
  exr: checkExr,
  dpx: checkDpx,
  bmp: checkBmp,
};

/** Extensions of pictures, without the dot. */
export const PICTURE_EXTENSIONS = Object.keys(CHECKS);

const extensionOf = (file: string): string => path.extname(file).slice(1).toLowerCase();

/**
 * Looks at a picture.
 * @param kind what it should be, as an extension; that of its name unless it is said
 * @throws where it cannot be read from disk, or is of no kind that is known
 */
export async function checkPicture(file: string, kind = extensionOf(file)): Promise<PictureCheck> {
  const check = CHECKS[kind];
  if (!check) throw new Error(`${kind} is no kind of picture`);
  return check(await readFile(file));
}
