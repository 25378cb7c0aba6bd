/** Uploads made by a seed: sound, damaged, hostile and odd ones, each with what is known of it. */
import { mkdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { randomFrom } from '../core/math/random.ts';
import { ffmpeg } from './services.ts';

interface MadeFile {
  name: string;
  bytes: Buffer;
}

export interface MadeUpload {
  kind: string;
  files: MadeFile[];
  /** How many frames it has, where it is whole and is to be taken without a question. */
  frames?: number;
  /** Frames that it had before it was damaged: it may be refused or asked about, but is not taken with fewer and without a word. */
  had?: number;
  /** It must be refused before it is a shot. */
  refused?: true;
}

const MOVIES: [string, string[]][] = [
  ['h264.mp4', ['-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p']],
  ['h264-fast.mp4', ['-c:v', 'libx264', '-preset', 'ultrafast', '-bf', '2', '-pix_fmt', 'yuv420p', '-movflags', '+faststart']],
  ['h264.mkv', ['-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p']],
  ['hevc.mov', ['-c:v', 'libx265', '-preset', 'ultrafast', '-x265-params', 'log-level=none', '-pix_fmt', 'yuv420p10le']],
  ['prores.mov', ['-c:v', 'prores_ks', '-profile:v', '4444', '-pix_fmt', 'yuva444p10le']],
  ['mjpeg.avi', ['-c:v', 'mjpeg', '-q:v', '3']],
  ['ffv1.mkv', ['-c:v', 'ffv1', '-level', '3', '-pix_fmt', 'yuv422p10le']],
  ['vp9.webm', ['-c:v', 'libvpx-vp9', '-cpu-used', '8', '-b:v', '300k']],
  ['mpeg2.ts', ['-c:v', 'mpeg2video', '-q:v', '4', '-pix_fmt', 'yuv420p']],
  ['anim.gif', []],
  ['dnxhd.mxf', ['-vf', 'scale=1920:1080', '-c:v', 'dnxhd', '-b:v', '36M', '-pix_fmt', 'yuv422p']],
  ['mpeg4.avi', ['-c:v', 'mpeg4', '-q:v', '4']],
];
const PICTURES = ['png', 'jpg', 'tif', 'webp', 'exr', 'dpx', 'bmp'];
/** Frames of a movie, and pictures of a sequence, that uploads are made from. */
const FRAMES = 12;
const COUNT = 5;

/** What uploads are made from: one movie and one sequence of each kind. */
export interface Stock {
  movies: MadeFile[];
  sequences: Map<string, Buffer[]>;
  song: Buffer;
}

export async function makeStock(dir: string): Promise<Stock> {
  await mkdir(dir, { recursive: true });
  const at = (name: string) => path.join(dir, name);
  const movies: MadeFile[] = [];
  for (const [name, args] of MOVIES) {
    ffmpeg('-f', 'lavfi', '-i', `testsrc2=s=160x90:r=24:d=${FRAMES / 24}`, ...args, at(name));
    movies.push({ name, bytes: await readFile(at(name)) });
  }
  const sequences = new Map<string, Buffer[]>();
  for (const extension of PICTURES) {
    const depth = extension === 'exr' ? ['-pix_fmt', 'gbrpf32le'] : extension === 'webp' ? ['-c:v', 'libwebp', '-f', 'image2'] : [];
    ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=160x90:r=24:d=1', '-frames:v', String(COUNT), ...depth, at(`s.%d.${extension}`));
    sequences.set(extension, await Promise.all(Array.from({ length: COUNT }, (_, i) => readFile(at(`s.${i + 1}.${extension}`)))));
  }
  ffmpeg('-f', 'lavfi', '-i', 'sine=d=1', at('song.wav'));
  return { movies, sequences, song: await readFile(at('song.wav')) };
}

/** A zip of entries under these names, as they are. */
const zipOf = (entries: readonly MadeFile[]): Buffer => Buffer.from(zipSync(Object.fromEntries(entries.map(({ name, bytes }) => [name, bytes])), { level: 0 }));

/** Makes one upload. The same seed makes the same. */
export async function madeUpload(seed: number, { movies, sequences, song }: Stock): Promise<MadeUpload> {
  const random = randomFrom(seed * 7919 + 13);
  const whole = (from: number, to: number) => from + Math.floor(random() * (to - from + 1));
  const pick = <T>(list: readonly T[]): T => list[whole(0, list.length - 1)];
  const spoilt = (bytes: Buffer): Buffer => {
    const out = Buffer.from(bytes);
    for (let i = 0; i < whole(1, 6); i++) out[whole(0, out.length - 1)] = whole(0, 255);
    return out;
  };
  const cut = (bytes: Buffer): Buffer => bytes.subarray(0, Math.max(1, Math.floor(bytes.length * random() * 0.99)));
  const noise = (length: number): Buffer => Buffer.from(Array.from({ length }, () => whole(0, 255)));
  const extension = pick(PICTURES);
  const own = sequences.get(extension) as Buffer[];
  const first = whole(0, 2000);
  const named = (bytes: Buffer[]): MadeFile[] => bytes.map((b, i) => ({ name: `plate.${String(first + i).padStart(4, '0')}.${extension}`, bytes: b }));
  const movie = pick(movies);
  const some = whole(0, COUNT - 1);
  const png = (sequences.get('png') as Buffer[])[0];

  const kinds: (() => MadeUpload | Promise<MadeUpload>)[] = [
    () => ({ kind: 'a sound movie', files: [movie], frames: FRAMES }),
    () => ({ kind: 'a movie that is cut off', files: [{ ...movie, bytes: cut(movie.bytes) }], had: FRAMES }),
    () => ({ kind: 'a movie with wrong bytes', files: [{ ...movie, bytes: spoilt(movie.bytes) }], had: FRAMES }),
    () => ({ kind: 'a sound sequence', files: named(own), frames: COUNT }),
    () => ({ kind: 'a sequence, one picture cut off', files: named(own.map((b, i) => (i === some ? cut(b) : b))), had: COUNT }),
    () => ({ kind: 'a sequence, one picture with wrong bytes', files: named(own.map((b, i) => (i === some ? spoilt(b) : b))), had: COUNT }),
    () => ({ kind: 'a sequence with a gap', files: named(own).filter((_, i) => i !== 2), had: COUNT }),
    async () => {
      const odd = await sharp({ create: { width: whole(16, 300), height: 60, channels: 3, background: '#456' } })
        .png()
        .toBuffer();
      const files = named(own).map((f, i) => ({ name: f.name.replace(/\w+$/, 'png'), bytes: i === some ? odd : (sequences.get('png') as Buffer[])[i] }));
      return { kind: 'a sequence, one picture of another size', files, had: COUNT };
    },
    () => ({
      kind: 'bytes without a meaning',
      files: [{ name: `noise.${pick(['mp4', 'mov', 'png', 'zip', 'webm', 'jpg'])}`, bytes: noise(whole(1, 4000)) }],
      refused: true,
    }),
    () => {
      const text = pick([
        '#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n',
        'ffconcat version 1.0\nfile /etc/hostname\n',
        '<svg><image href="file:///etc/passwd"/></svg>',
        'v=0\nm=video 1 RTP/AVP 96\n',
      ]);
      const files = Array.from({ length: whole(1, 2) }, (_, i) => ({
        name: `list.${i + 1}.${pick(['png', 'png', 'mp4', 'm3u8', 'svg', 'sdp'])}`,
        bytes: Buffer.from(text),
      }));
      return { kind: 'a list that leads elsewhere', files, refused: true };
    },
    async () => ({
      kind: 'a zip of a sequence',
      files: [{ name: 'plates.zip', bytes: zipOf(named(own).map((f) => ({ ...f, name: `a/b/${f.name}` }))) }],
      frames: COUNT,
    }),
    async () => ({ kind: 'a zip that is cut off', files: [{ name: 'plates.zip', bytes: cut(zipOf(named(own))) }], refused: true }),
    () => {
      const bytes = Buffer.from(zipOf(named(own)));
      // The flag of a password, in the directory and before the entry.
      for (const [signature, flag] of [
        [0x02014b50, 8],
        [0x04034b50, 6],
      ] as const)
        for (let at = 0; at < bytes.length - 30; at++) if (bytes.readUInt32LE(at) === signature) bytes[at + flag] |= 1;
      return { kind: 'a zip with a password', files: [{ name: 'plates.zip', bytes }], refused: true };
    },
    () => {
      const bytes = zipOf([{ name: 'xx/xx/xx/plate.0001.png', bytes: png }]);
      // Written over, as no packer makes such names.
      const out = Buffer.from(bytes.toString('latin1').replaceAll('xx/xx/xx/', pick(['../../../', '/etc/abc/', 'C:\\x\\y\\z'])), 'latin1');
      return { kind: 'a zip that leads out', files: [{ name: 'plates.zip', bytes: out }], refused: true };
    },
    () => ({
      kind: 'a zip with long names',
      files: [{ name: 'plates.zip', bytes: zipOf(own.map((bytes, i) => ({ name: `${'long-'.repeat(90)}.${i + 1}.${extension}`, bytes }))) }],
      frames: COUNT,
    }),
    () => ({
      kind: 'a name that is odd',
      files: [
        { name: pick(['../../../up.mp4', '…🜂 tide.mp4', `${'n'.repeat(280)}.mp4`, '.mp4', 'CON.mp4', 'a\u0000b.mp4', '-rf.mp4']), bytes: movies[0].bytes },
      ],
      frames: FRAMES,
    }),
    () => ({ kind: 'sound without a picture', files: [{ name: 'song.wav', bytes: song }], refused: true }),
    () => ({
      kind: 'files of several kinds',
      files: [
        { name: 'a.1.png', bytes: png },
        { name: 'a.2.jpg', bytes: (sequences.get('jpg') as Buffer[])[0] },
      ],
      refused: true,
    }),
    () => ({
      kind: 'one number twice',
      files: [
        { name: 'a.1.png', bytes: png },
        { name: 'b.1.png', bytes: png },
      ],
      refused: true,
    }),
    () => ({ kind: 'nothing in the file', files: [{ name: pick(['a.mp4', 'a.png', 'a.zip']), bytes: Buffer.alloc(0) }], refused: true }),
    async () => {
      const [width, height] = pick([
        [17, 9],
        [8, 8],
        [1001, 33],
        [33, 777],
      ] as const);
      return {
        kind: 'a still of an odd size',
        files: [
          {
            name: 'still.png',
            bytes: await sharp({ create: { width, height, channels: 4, background: '#4569' } })
              .png()
              .toBuffer(),
          },
        ],
        frames: 1,
      };
    },
    async () => ({
      kind: 'a still that is too small',
      files: [
        {
          name: 'dot.png',
          bytes: await sharp({ create: { width: 3, height: 3, channels: 3, background: '#456' } })
            .png()
            .toBuffer(),
        },
      ],
      refused: true,
    }),
    () => ({ kind: 'a still that is cut off', files: [{ name: `still.${extension}`, bytes: cut(own[0]) }], refused: true }),
  ];
  return kinds[seed % kinds.length]();
}

/** How many kinds there are: so many seeds in a row make one of each. */
export const KINDS = 23;
