/** Usual jobs as steps that tick themselves off from how a shot stands. */

import { isBare, type Standing } from '../document/next-step.ts';
import { pathsOf } from '../document/parts.ts';
import { hasMatte } from '../document/remarks.ts';
import { ofSubject, type PeelPart, type SplinePart } from '../document/schema.ts';
import { tally } from '../document/tracks.ts';
import { hasKeys } from '../time/animated.ts';

/** What a guide looks at beside how the shot stands. */
export interface GuideFacts extends Standing {
  bench: string;
  view: string;
}

export interface GuideStep {
  words: string;
  /** One line on how. */
  how: string;
  /** Where it is done, and with which tool. */
  bench: 'isolate' | 'edge' | 'compose' | 'output';
  tool?: 'brush' | 'draw';
  done(facts: GuideFacts): boolean;
}

export interface Guide {
  id: string;
  title: string;
  about: string;
  /** The clip of the demo film on which it can be tried. */
  clip: string;
  steps: readonly GuideStep[];
}

const peels = ({ subject }: Standing) => (subject?.parts ?? []).filter((p): p is PeelPart => p.type === 'peel');
const splines = ({ subject }: Standing) => (subject?.parts ?? []).filter((p): p is SplinePart => p.type === 'spline');
const painted = (facts: Standing, ...kinds: string[]) => peels(facts).some((p) => p.strokes.some((s) => s.enabled && kinds.includes(s.kind)));
const isolated = ({ subject }: Standing) => subject !== null && hasMatte(subject);
const closed = (facts: Standing) => splines(facts).some((p) => pathsOf(p).some((q) => q.closed));
const follows = (facts: Standing) => splines(facts).some((p) => p.follow);
const followed = (facts: Standing) => facts.document.tracks.filter((t) => splines(facts).some((p) => p.follow?.track === t.id));
const carried = (facts: Standing) => facts.found > 1 && facts.missing === 0 && !facts.carrying;
const elements = ({ document }: Standing, kind?: string) => document.lanes.flatMap((l) => (l.type === 'element' && (!kind || l.element === kind) ? [l] : []));

const PAINT: GuideStep = {
  words: 'Paint on the subject',
  how: 'Take the brush (Z). A few strokes on one frame are enough: on the head, the body, whatever has another colour.',
  bench: 'isolate',
  tool: 'brush',
  done: (f) => painted(f, 'keep', 'loop'),
};
const CARRY: GuideStep = {
  words: 'Carry it through the shot',
  how: 'Press the button under the picture, or Ctrl Enter. You can go on working meanwhile.',
  bench: 'isolate',
  done: carried,
};
const SOFTEN: GuideStep = {
  words: 'Soften the edge',
  how: 'On the Edge bench set Feather in and Feather out to a pixel or two.',
  bench: 'edge',
  done: ({ subject }) => subject !== null && !isBare(subject.edge),
};
const WRITE: GuideStep = {
  words: 'Press Write',
  how: 'It is written in the background; the top bar shows how far it is.',
  bench: 'output',
  done: (f) => f.written > 0,
};

export const GUIDES: readonly Guide[] = [
  {
    id: 'strokes',
    title: 'Isolate by strokes',
    about: 'The program finds the subject from a few strokes, and carries it through the shot.',
    clip: 'courier-on-the-quay.mp4',
    steps: [
      PAINT,
      {
        words: 'Paint what is too much with Alt held',
        how: 'The tint shows what is found. An Alt stroke takes away; dots (clicks) do as well.',
        bench: 'isolate',
        tool: 'brush',
        done: (f) => painted(f, 'drop'),
      },
      CARRY,
      SOFTEN,
      {
        words: 'Go through the doubtful frames',
        how: 'Shift R goes to the worst first: paint there what is wrong, or approve it with V.',
        bench: 'isolate',
        done: (f) => carried(f) && f.doubtful === 0,
      },
    ],
  },
  {
    id: 'hand',
    title: 'Isolate by hand',
    about: 'A curve round the subject, keyed every few frames.',
    clip: 'storm-lantern.mp4',
    steps: [
      {
        words: 'Draw a closed curve round the subject',
        how: 'Take the drawing tool (D). Click for a corner, drag for a smooth point, click the first point to close.',
        bench: 'isolate',
        tool: 'draw',
        done: closed,
      },
      {
        words: 'Go some frames on and move it to fit',
        how: 'Page Down, or the Sheet, goes on. Drag the curve or its points: that makes a key.',
        bench: 'isolate',
        done: (f) => splines(f).some((p) => pathsOf(p).some((q) => hasKeys(q.shape) && q.shape.keys.length > 1)),
      },
      {
        words: 'Look at the matte',
        how: 'Press 3, and Space to play: where it slips, move it again.',
        bench: 'isolate',
        done: (f) => closed(f) && f.view === 'matte',
      },
      SOFTEN,
    ],
  },
  {
    id: 'track',
    title: 'Track a sign',
    about: 'A flat thing is followed through the shot, and a picture is put on it.',
    clip: 'ferry-ramp.mp4',
    steps: [
      {
        words: 'Draw round the sign',
        how: 'On a frame on which it is seen well: the drawing tool (D), a click on each corner, the first one again.',
        bench: 'isolate',
        tool: 'draw',
        done: closed,
      },
      {
        words: 'Track it both ways',
        how: 'In the settings of the curve, under Track: choose Perspective, then Track both ways.',
        bench: 'isolate',
        done: follows,
      },
      {
        words: 'Mend what was lost',
        how: 'Stretches that are not to be trusted are listed: accept or delete them, or set the place by hand.',
        bench: 'isolate',
        done: (f) => followed(f).length > 0 && followed(f).every((t) => tally(t).lost === 0),
      },
      {
        words: 'Put a picture on it',
        how: 'On the Compose bench add a Card or Footage in front. Under Follows choose the track; Placed by: On the region.',
        bench: 'compose',
        done: (f) => elements(f).some((e) => e.follow && f.document.tracks.some((t) => t.id === e.follow?.track)),
      },
    ],
  },
  {
    id: 'title',
    title: 'A title behind the subject',
    about: 'Words between the subject and what is behind it.',
    clip: 'courier-on-the-quay.mp4',
    steps: [
      { ...PAINT, words: 'Isolate the subject', done: isolated },
      CARRY,
      {
        words: 'Add a title behind it',
        how: 'On the Compose bench press + at Behind and choose Title.',
        bench: 'compose',
        done: (f) => elements(f, 'title').some((e) => ofSubject(e.lane)),
      },
      {
        words: 'Type the words',
        how: 'In the settings, under Words. Drag the title in the picture to where it should stand.',
        bench: 'compose',
        done: (f) => elements(f, 'title').some((e) => !['', 'Title'].includes(e.words.trim())),
      },
      WRITE,
    ],
  },
  {
    id: 'write',
    title: 'Write a matte',
    about: 'The subject as black and white pictures, or as a cut-out with alpha, for other programs.',
    clip: 'courier-on-the-quay.mp4',
    steps: [
      { ...PAINT, words: 'Isolate the subject', done: isolated },
      CARRY,
      {
        words: 'Go to the Output bench',
        how: 'Choose Matte for black and white, or Cut-out for the subject with alpha.',
        bench: 'output',
        done: (f) => f.bench === 'output' || f.written > 0,
      },
      WRITE,
    ],
  },
];

export const guideById = (id: string | null): Guide | undefined => GUIDES.find((g) => g.id === id);
