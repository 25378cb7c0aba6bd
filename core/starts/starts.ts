/** Usual jobs laid out at once: lanes, items and keys in proportion to the shot. What they lay out is changed like anything else. */
import type { LaneItem, ShotDocument } from '../document/schema.ts';
import { type Asked, Kit } from './kit.ts';

export type Asks = 'subject' | 'footage' | 'words' | 'leader';

export interface Start {
  id: string;
  label: string;
  /** One sentence on what it makes. */
  about: string;
  /** What it cannot do without, and what it can use; a leader may always be left out. */
  asks: readonly Asks[];
  /** What to do next, in order. */
  steps: readonly string[];
  /** From far to near, as they are put into the lanes. */
  items(kit: Kit): LaneItem[];
}

/** Whole pixels, one at least. */
const px = (of: number): number => Math.max(1, Math.round(of));

const FADE = {
  keys: [
    [0, 0],
    [0.08, 1],
    [0.92, 1],
    [1, 0],
  ],
} as const;

export const STARTS: readonly Start[] = [
  {
    id: 'title-behind',
    label: 'Title behind',
    about: 'Words that fade in and out behind the subject, in front of all else.',
    asks: ['subject', 'words'],
    steps: [
      'Drag the words where they belong; their size is a setting.',
      'Move the first and the last keys of Opacity to when they should come and go.',
      'Let them follow a track if the camera moves.',
    ],
    items: (k) => [k.element('title', 'behind', { size: px(k.height * 0.3) }, { words: k.asked.words || 'Title', mix: FADE })],
  },
  {
    id: 'rings-of-light',
    label: 'Rings of light',
    about: 'Rings leave the outline of the subject, glow and change their colour.',
    asks: ['subject'],
    steps: ['Set Births and Spread to the pace of the shot.', 'Give Colour the keys you like.', 'On its Glow choose how far the light reaches.'],
    items: (k) => [
      k.element(
        'rings',
        'behind',
        { speed: px(k.height * 0.3), birthWidth: px(k.height * 0.012) },
        { mix: FADE, effects: [k.own('glow', { radius: px(k.height * 0.03), from: 10 })] },
      ),
    ],
  },
  {
    id: 'drawn-outline',
    label: 'Outline that draws itself',
    about: 'A glowing line runs round the subject until it is closed, and goes the way it came.',
    asks: ['subject'],
    steps: [
      'Drag the keys of To to when it begins and when it is closed.',
      'Choose width, colour and glow.',
      'To have the line alone, write the elements alone.',
    ],
    items: (k) => [
      k.element(
        'line',
        'front',
        {
          to: {
            keys: [
              [0, 0, 'ease-both'],
              [0.4, 100, 'hold'],
              [0.75, 100, 'ease-both'],
              [1, 0],
            ],
          },
          glow: px(k.height * 0.02),
          width: px(k.height * 0.008),
        },
        { of: k.asked.subject },
      ),
    ],
  },
  {
    id: 'bursts',
    label: 'Disturbed in bursts',
    about: 'The picture behind the subject breaks up for a few short whiles, and is untouched between them.',
    asks: ['subject'],
    steps: ['Mark a range (B and N) and add it, or take one away: that is when it breaks up.', 'Choose how much of it jumps, and how far.'],
    items: (k) => [k.effect('break-up', 'behind', { shift: px(k.width * 0.05) }, { lives: [k.range(0.15, 0.22), k.range(0.45, 0.5), k.range(0.78, 0.9)] })],
  },
  {
    id: 'sign-replaced',
    label: 'Sign replaced',
    about: 'Footage inside the outline of the subject, which goes with its track in all its perspective.',
    asks: ['subject', 'footage', 'leader'],
    steps: [
      'With the Place tool choose four corners and drag them onto those of the sign.',
      'Check the last frame: what follows a region keeps its corners.',
      'Match its colours to what is under it with an effect of its own.',
    ],
    items: (k) => {
      const corners = k.corners();
      const on = corners ? { corners: { constant: corners } } : {};
      return [k.element('footage', 'inside', k.covering(), { footage: k.asked.footage, ...on, ...k.followed(['position', 'turn', 'scale', 'shape']) })];
    },
  },
  {
    id: 'colour-only-here',
    label: 'Colour only here',
    about: 'Everything but the subject loses its colour and gets darker.',
    asks: ['subject'],
    steps: ['Set how dark the rest becomes: Exposure.', 'Key Opacity of both where the colour should go and come back.'],
    items: (k) => [k.effect('monochrome', 'behind'), k.effect('grade', 'behind', { exposure: -0.7 })],
  },
  {
    id: 'twice-the-same',
    label: 'Twice the same person',
    about: 'The subject once more, beside itself and a little later.',
    asks: ['subject'],
    steps: [
      'Drag it where the second one stands.',
      'Set when it starts. For another take, put Footage in front and choose its subject.',
      'Less feather, and Grow below 0, take away what glows round it.',
    ],
    items: (k) => [k.element('cutout', 'front', { x: px(k.width * 0.72), offset: k.frame(0.12) }, { of: k.asked.subject })],
  },
  {
    id: 'through-the-window',
    label: 'Through the window',
    about: 'Another shot is seen through the subject, and grows as one comes nearer.',
    asks: ['subject', 'footage', 'leader'],
    steps: [
      'Let it follow the track of the window.',
      'Press Cover: it becomes as large as it has to be to show no empty border.',
      'Ease how far it follows in and out, if it should come loose from it.',
    ],
    items: (k) => [k.element('footage', 'inside', k.covering(), { footage: k.asked.footage, ...k.followed(['position', 'scale']) })],
  },
  {
    id: 'wiped-by-a-passer-by',
    label: 'Wiped by a passer-by',
    about: 'The second shot comes in behind the subject as it crosses the picture.',
    asks: ['subject', 'footage'],
    steps: [
      'Go to where the subject enters, and set Done so that the line is hidden by it; do the same where it leaves.',
      'More keys between them where it is faster or slower.',
      'If it does not fill the height, zoom: Framing.',
    ],
    items: (k) => [
      k.element(
        'wipe',
        'behind',
        {
          done: {
            keys: [
              [0.15, 0],
              [0.85, 100],
            ],
          },
          softness: px(k.width * 0.03),
        },
        { footage: k.asked.footage },
      ),
    ],
  },
  {
    id: 'cut-in-two',
    label: 'Cut in two',
    about: 'The upper half of the subject is lifted off the lower one, with the place behind it clean.',
    asks: ['subject'],
    steps: [
      'Drag the ends of the two lines to where it is cut.',
      'Move the keys of Y to when the upper half goes, and how far.',
      'Soften both lines by a pixel or two.',
    ],
    items: (k) => {
      const { width, height, asked } = k;
      const [x, y] = [width / 2, height / 2];
      const gone = k.element('clean', 'inside', {}, { name: 'The place without it' });
      const lower = k.element('cutout', 'front', {}, { of: asked.subject, name: 'Lower half' });
      const upper = k.element(
        'cutout',
        'front',
        {
          y: {
            keys: [
              [0.3, y, 'ease-both'],
              [0.6, y - height * 0.12],
            ],
          },
          shutter: 180,
        },
        { of: asked.subject, name: 'Upper half' },
      );
      const line = (name: string, side: string, pinned: string) =>
        k.element(
          'wipe',
          'front',
          { fromX: x, fromY: 0, toX: x, toY: height, done: 50, softness: 2, side },
          {
            enabled: false,
            name,
            pins: Object.fromEntries(['fromX', 'toX'].map((end) => [end, { track: pinned, frame: 0, takes: ['position'] as ['position'] }])),
          },
        );
      const [above, below] = [line('Line of the upper half', 'passed', upper.id), line('Line of the lower half', 'rest', lower.id)];
      return [gone, below, { ...lower, matteOf: below.id }, above, { ...upper, matteOf: above.id }];
    },
  },
  {
    id: 'lamp-blinks',
    label: 'Lamp that blinks',
    about: 'Two lids close over the subject and open again.',
    asks: ['subject', 'leader'],
    steps: [
      'Drag it over the lamp; On the region makes it as large as what was tracked.',
      'Set when it closes, how long and how often: all of it keeps its proportions.',
    ],
    items: (k) => [k.element('lids', 'inside', k.box(), k.followed())],
  },
  {
    id: 'rising',
    label: 'Rising from the ground',
    about: 'The subject comes up from below, with the place behind it clean.',
    asks: ['subject'],
    steps: [
      'What it rises behind is a subject of its own: isolate it, and move the Cut-out behind it.',
      'Move the keys of Y, and shape their speed in the curve editor.',
    ],
    items: (k) => [
      k.element('clean', 'inside', {}, { name: 'The place without it' }),
      k.element(
        'cutout',
        'front',
        {
          y: {
            keys: [
              [0.05, k.height * 1.5, 'ease-out'],
              [0.5, k.height / 2],
            ],
          },
          shutter: 180,
        },
        { of: k.asked.subject },
      ),
    ],
  },
  {
    id: 'stepping-out',
    label: 'Stepping out from behind',
    about: 'A quiet frame of the footage hides what is inside the subject: somebody comes out from behind what stands there.',
    asks: ['subject', 'footage'],
    steps: [
      'Choose the frame on which nobody is there: Its frame.',
      'Feather the edge of the subject.',
      'Where the light differs, key Opacity, or match the colours.',
    ],
    items: (k) => [k.element('footage', 'inside', { ...k.covering(), shows: 'frame', frame: 0 }, { footage: k.asked.footage })],
  },
  {
    id: 'face-on-a-thing',
    label: 'Face on a thing',
    about: 'The subject, smaller and multiplied, on another picture that fills the plate.',
    asks: ['subject', 'footage', 'leader'],
    steps: ['Drag, scale and turn it onto the thing.', 'Press Match on its Match colour.', 'Feather the edge of the subject beyond its outline.'],
    items: (k) => [
      k.element('footage', 'backdrop', k.covering(), { footage: k.asked.footage }),
      k.element('cutout', 'front', { scale: 50 }, { of: k.asked.subject, blend: 'multiply', effects: [k.own('match')], ...k.followed() }),
    ],
  },
  {
    id: 'from-shot-to-shot',
    label: 'From this shot to the next',
    about: 'This shot gives place to another: it fades, is wiped, opened, pushed or slid over.',
    asks: ['footage'],
    steps: [
      'Set when it begins and how many frames it takes.',
      'Choose the way, and where it goes to.',
      'To keep both shots in full length, join them on the page of the production.',
    ],
    items: (k) => [k.element('way', 'front', { begins: k.frame(0.45), takes: Math.max(1, k.frame(0.15)) }, { footage: k.asked.footage })],
  },
  {
    id: 'boundary',
    label: 'Boundary on the ground',
    about: 'A line outside the edge of the subject that fades in and out; inside it is a little brighter.',
    asks: ['subject'],
    steps: ['Choose width, colour and corners of the line.', 'Set how much brighter it is inside.'],
    items: (k) => [
      k.effect('grade', 'inside', { exposure: 0.35 }, { mix: FADE }),
      k.element('line', 'front', { beside: px(k.height * 0.02), width: px(k.height * 0.012), glow: px(k.height * 0.012) }, { of: k.asked.subject, mix: FADE }),
    ],
  },
  {
    id: 'not-to-be-seen',
    label: 'What must not be seen',
    about: 'Blurs the inside of the subject beyond recognition.',
    asks: ['subject'],
    steps: ['Set how far it softens across and down.', 'Feather the edge outwards, so that nothing shows at it.', 'To blur everything but it, move it behind.'],
    items: (k) => [k.effect('gaussian-blur', 'inside', { x: px(k.height * 0.05), y: px(k.height * 0.05) })],
  },
  {
    id: 'in-flames',
    label: 'In flames',
    about: 'Flames rise behind the subject and light its edge.',
    asks: ['subject'],
    steps: [
      'Drag the flames to where they stand.',
      'Set how fast they rise, and how high they reach: Thins.',
      'Light wrap says how far their light comes round the edge.',
    ],
    items: (k) => [k.variant('flames', 'behind', {}, { mix: FADE }), k.effect('light-wrap', 'inside', { width: px(k.height * 0.03) }, { mix: FADE })],
  },
];

/** The items of a start for a shot. @param newId for them and what is in them */
export const laidOut = (start: Start, document: ShotDocument, asked: Asked, newId: () => string): LaneItem[] => start.items(new Kit(document, asked, newId));
