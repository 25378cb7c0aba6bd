/** What a file is, before anything is done with it. */
import { stat } from 'node:fs/promises';
import { z } from 'zod';
import { framesPerSecond, parseRate, type Rate, rateSchema, rateText } from '../../core/time/rate.ts';
import type { Config } from '../config.ts';
import { Problem } from '../problem.ts';
import { INPUT_GUARD, run } from './ffmpeg.ts';
import { checkPicture, isDamaged, PICTURE_EXTENSIONS } from './picture-check.ts';

/** Something that is wrong with a frame of the plate, in words that follow a name: "is cut off". */
const damageSchema = z.strictObject({ frame: z.number().int().min(0), why: z.string() });
export type Damage = z.infer<typeof damageSchema>;

/** What is seen where a picture of a sequence cannot be used. */
const FILLINGS = ['hold', 'black', 'leave-out'] as const;
export type Filling = (typeof FILLINGS)[number];

export const probeSchema = z.object({
  kind: z.enum(['video', 'sequence', 'still']),
  /** Path below the plate's own directory, or a numbered pattern there. */
  input: z.string(),
  codec: z.string(),
  /** Size as shown: turned upright, pixels square. */
  width: z.number().int(),
  height: z.number().int(),
  /** Sample aspect ratio other than 1:1 is scaled away; variable rates are conformed. */
  square: z.boolean(),
  conformed: z.boolean(),
  rate: rateSchema,
  rgb: z.boolean(),
  /** Whether its values are linear light. */
  linear: z.boolean().default(false),
  /** Whether it has alpha. Not told of footage that was brought in before this was looked at. */
  alpha: z.boolean().optional(),
  matrix: z.enum(['bt709', 'bt601', 'bt2020']),
  range: z.enum(['tv', 'pc']),
  hasSound: z.boolean(),
  /** A decoder other than ffmpeg's own choice, which would leave out the alpha. */
  decoder: z.enum(['libvpx', 'libvpx-vp9']).optional(),
  /** How a picture is to be turned upright, as Exif numbers it; 1: it is. */
  orientation: z.number().int().min(1).max(8).default(1),
  /** Of a sequence, how large its pictures are as they are stored. */
  stored: z.strictObject({ width: z.number().int(), height: z.number().int() }).optional(),
  /** Frames, and seconds of its picture, that a movie says it has; the second at which it begins; whether it ends in the middle of its data. */
  says: z.strictObject({ frames: z.number().int().nullable(), seconds: z.number().nullable(), start: z.number(), torn: z.boolean().default(false) }).optional(),
  /** Guess of the number of frames, for progress; of a sequence it is their number. */
  framesGuess: z.number().int(),
  /** What is to be decided before it can be used. */
  asks: z.enum(['filling', 'short']).optional(),
  filling: z.enum(FILLINGS).optional(),
  /** Of a movie whose beginning cannot be decoded: the second from which its first frame that can is held backwards. */
  padsFrom: z.number().optional(),
  /** Whether what there is of a movie is taken, though it should be more. */
  takesShort: z.boolean().default(false),
  /** Frames on which something else is seen than what should be there. */
  damage: z.array(damageSchema).default([]),
  notes: z.array(z.string()),
});
export type Probe = z.infer<typeof probeSchema>;

interface Stream {
  codec_type?: string;
  codec_name?: string;
  width?: number;
  height?: number;
  pix_fmt?: string;
  sample_aspect_ratio?: string;
  r_frame_rate?: string;
  avg_frame_rate?: string;
  nb_frames?: string;
  start_time?: string;
  duration?: string;
  color_space?: string;
  color_range?: string;
  disposition?: { attached_pic?: number };
  tags?: Record<string, string>;
  side_data_list?: { rotation?: number }[];
}

const STILL_FORMATS = /^(png_pipe|jpeg_pipe|tiff_pipe|exr_pipe|dpx_pipe|bmp_pipe|webp_pipe|image2)$/;
const fraction = (text: string | undefined): number => {
  const [a, b] = (text ?? '').split(/[/:]/).map(Number);
  return a > 0 && b > 0 ? a / b : 0;
};

/** How a single picture is to be turned; one that is damaged is refused. */
async function orientationOf(file: string, shownName: string, codec: string): Promise<number> {
  const kind = codec === 'mjpeg' ? 'jpeg' : codec === 'apng' ? 'png' : codec;
  if (!PICTURE_EXTENSIONS.includes(kind)) return 1;
  const check = await checkPicture(file, kind);
  if (isDamaged(check)) throw refuse(`"${shownName}" ${check.damage}. Send it again, or another copy of it.`);
  return check.orientation;
}

/** Bytes of a packet of a transport stream (ISO/IEC 13818-1), which says nowhere how long it is. */
const PACKET = 188;

/** Whether a transport stream ends within a packet. */
async function isTorn(file: string, format: string | undefined): Promise<boolean> {
  if (format !== 'mpegts') return false;
  const { size } = await stat(file);
  // As discs have them a packet has four bytes more.
  return size % PACKET !== 0 && size % (PACKET + 4) !== 0;
}

/** Rates that footage has; where times are told in milliseconds, as in Matroska, a rate is read that is near one of them and no other. */
const USUAL_RATES = [
  [24000, 1001],
  [24, 1],
  [25, 1],
  [30000, 1001],
  [30, 1],
  [48000, 1001],
  [48, 1],
  [50, 1],
  [60000, 1001],
  [60, 1],
  [120000, 1001],
  [120, 1],
] as const;
/** How near, as a share: 24 and 24000/1001 are a thousandth apart. */
const NEAR = 0.0004;

/** The rate that is meant by one that was read. */
function meant(rate: Rate): Rate {
  const usual = USUAL_RATES.find(([num, den]) => Math.abs(framesPerSecond(rate) / (num / den) - 1) < NEAR);
  return usual && rate.den !== 1 ? { num: usual[0], den: usual[1] } : rate;
}

/** Rates that variable footage is conformed to where its own nominal rate says nothing. */
const STANDARD_RATES = ['24', '25', '30', '48', '50', '60', '120'];

/** The nominal rate, unless it is far above what is there, as clocks of 90 kHz are; then the next standard rate. */
function conformedRate(nominal: number, mean: number, nominalText: string): string {
  if (nominal <= 120 && nominal < mean * 2) return nominalText;
  return STANDARD_RATES.find((r) => Number(r) >= mean * 0.98) ?? '120';
}

const refuse = (message: string) => new Problem('not-footage', message, 422);

/** Seconds that a stream says it lasts, by itself or, as in Matroska, by a tag. */
function secondsOf({ duration, tags }: Stream): number | null {
  const own = Number(duration);
  if (own > 0) return own;
  const [, h, m, s] = /^(\d+):(\d\d):(\d\d(?:\.\d+)?)$/.exec(tags?.DURATION ?? '') ?? [];
  return s ? Number(h) * 3600 + Number(m) * 60 + Number(s) : null;
}

/** ffmpeg's own decoders of VP8 and VP9 leave out the alpha, which is a stream inside theirs. */
function decoderFor({ codec_name, tags }: Stream): Probe['decoder'] {
  const hasAlpha = tags?.alpha_mode === '1' || tags?.ALPHA_MODE === '1';
  return !hasAlpha ? undefined : codec_name === 'vp8' ? 'libvpx' : codec_name === 'vp9' ? 'libvpx-vp9' : undefined;
}

/**
 * Probes `file`; of a numbered sequence `file` is a picture that can be read and `sequence` says how many there are and at what rate.
 * @throws Problem in words where it is nothing that can be used
 */
export async function probeFile(
  file: string,
  shownName: string,
  limits: Config['limits'],
  sequence?: { pattern: string; count: number; rate: string; orientation: number },
): Promise<Probe> {
  const { code, stdout } = await run('ffprobe', ['-v', 'error', ...INPUT_GUARD, '-show_streams', '-show_format', '-of', 'json', file], { timeoutMs: 60_000 });
  const unreadable = `"${shownName}" cannot be read as a picture or video. It may be cut off, empty, or of a kind that is not supported; try to play it, or convert it to H.264, ProRes or a PNG sequence.`;
  if (code !== 0) throw refuse(unreadable);
  const { streams = [], format = {} } = JSON.parse(stdout) as { streams?: Stream[]; format?: { format_name?: string; duration?: string; start_time?: string } };
  const video = streams.find((s) => s.codec_type === 'video' && !s.disposition?.attached_pic);
  if (!video) throw refuse(`"${shownName}" has no picture in it${streams.some((s) => s.codec_type === 'audio') ? ', only sound' : ''}.`);
  if (!video.width || !video.height) throw refuse(unreadable);

  const still = !sequence && STILL_FORMATS.test(format.format_name ?? '');
  const orientation = sequence?.orientation ?? (still || format.format_name === 'apng' ? await orientationOf(file, shownName, video.codec_name ?? '') : 1);
  const turn = video.side_data_list?.find((d) => typeof d.rotation === 'number')?.rotation ?? 0;
  const aspect = fraction(video.sample_aspect_ratio) || 1;
  let width = Math.round(video.width * aspect);
  let height = video.height;
  if (Math.abs(Math.round(turn / 90)) % 2 === 1 || orientation > 4) [width, height] = [height, width];
  if (Math.max(width, height) > limits.side)
    throw refuse(`"${shownName}" is ${width}×${height}; the longest side allowed is ${limits.side} pixels. Scale it down, or raise MOTTREL_MAX_SIDE.`);
  if (Math.min(width, height) < 8) throw refuse(`"${shownName}" is only ${width}×${height}; at least 8×8 pixels are needed.`);

  const notes: string[] = [];
  const real = fraction(video.r_frame_rate);
  const mean = fraction(video.avg_frame_rate);
  const conformed = !still && !sequence && real > 0 && mean > 0 && Math.abs(real - mean) / mean > 0.001;
  const rate = sequence
    ? parseRate(sequence.rate)
    : still
      ? { num: 24, den: 1 }
      : meant(parseRate(conformed ? conformedRate(real, mean, video.r_frame_rate ?? '') : (video.r_frame_rate ?? '0')));
  if (conformed) notes.push(`The rate of this file varies; it was conformed to ${rateText(rate)} frames a second.`);
  if (aspect !== 1) notes.push('Its pixels are not square; it was scaled to square pixels.');
  if (turn !== 0 || orientation !== 1) notes.push('It was turned upright.');
  const seconds = secondsOf(video) ?? Number(format.duration ?? 0);
  const framesGuess = sequence?.count ?? (still ? 1 : Math.max(1, Math.round(seconds * framesPerSecond(rate)) || Number(video.nb_frames ?? 0)));
  if (framesGuess > limits.frames)
    throw refuse(`"${shownName}" has about ${framesGuess} frames; at most ${limits.frames} are taken. Cut the part you need, or raise MOTTREL_MAX_FRAMES.`);

  const matrix =
    video.color_space === 'bt2020nc' || video.color_space === 'bt2020c'
      ? 'bt2020'
      : video.color_space === 'bt709'
        ? 'bt709'
        : /smpte170m|bt470bg|fcc/.test(video.color_space ?? '')
          ? 'bt601'
          : height >= 720
            ? 'bt709'
            : 'bt601';
  const linear = video.codec_name === 'exr';
  if (linear) notes.push('Its values are linear light; they are seen, and worked on, as those of video. What is brighter than white is cut off.');
  const decoder = decoderFor(video);
  const rgb = /rgb|bgr|gbr|pal8|gray|mono|ya8|ya16/.test(video.pix_fmt ?? '');
  return {
    kind: sequence ? 'sequence' : still ? 'still' : 'video',
    input: sequence?.pattern ?? '',
    codec: video.codec_name ?? 'unknown',
    width,
    height,
    square: aspect === 1,
    conformed,
    rate,
    rgb,
    linear,
    decoder,
    orientation,
    ...(sequence ? { stored: { width: video.width, height: video.height } } : {}),
    ...(still || sequence
      ? {}
      : {
          says: {
            frames: Number(video.nb_frames) || null,
            seconds: secondsOf(video),
            start: Number(format.start_time ?? 0) || 0,
            torn: await isTorn(file, format.format_name),
          },
        }),
    takesShort: false,
    damage: [],
    alpha: decoder !== undefined || /yuva|rgba|bgra|argb|abgr|gbrap|ya8|ya16|pal8/.test(video.pix_fmt ?? ''),
    matrix,
    range: video.color_range === 'pc' || /^yuvj/.test(video.pix_fmt ?? '') || rgb ? 'pc' : 'tv',
    hasSound: streams.some((s) => s.codec_type === 'audio'),
    framesGuess,
    notes,
  };
}
