/** Under the picture: stepping, playing, the range, and what could not be shown in time. */
import { AudioLines, ChevronFirst, ChevronLast, Pause, Play, Repeat, SkipBack, SkipForward, StepBack, StepForward, Volume2, VolumeX } from 'lucide-react';
import { rateText } from '~/core/time/rate.ts';
import { toTimecode } from '~/core/time/timecode.ts';
import { useKeyFrames } from '../keys/columns.ts';
import { setSound, useSound } from '../state/sound.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { IconButton } from '../ui/controls.tsx';

export function Transport() {
  const { plate, view } = useWorkbench();
  const frame = useView((s) => s.frame);
  const playing = useView((s) => s.playing);
  const dropped = useView((s) => s.dropped);
  const range = useView((s) => s.range);
  const keys = useKeyFrames();
  const before = keys.findLast((k) => k < frame);
  const after = keys.find((k) => k > frame);
  const act = view.getState();
  const first = range?.first ?? 0;
  const last = range?.last ?? plate.frames - 1;
  return (
    <section aria-label="Transport" className="flex h-10 shrink-0 items-center gap-1 border-line border-t bg-panel px-2">
      <output className="w-24 font-mono text-sm tabular-nums" aria-label="Timecode">
        {toTimecode(frame, plate.rate)}
      </output>
      <span className="mr-1 flex items-center text-xs">
        <FrameField frame={frame} first={plate.firstNumber} frames={plate.frames} onFrame={(f) => view.getState().goTo(f)} />
        <span className="ml-1 text-quiet">/ {plate.frames - 1 + plate.firstNumber}</span>
      </span>
      <span className="mx-auto flex items-center">
        <IconButton label="First frame of the range" about="Of the marked range, or of the shot." shortcut="first" onClick={() => act.goTo(first)}>
          <ChevronFirst />
        </IconButton>
        <IconButton
          label="Key before"
          about="Of what is keyed on this subject."
          shortcut="keyBefore"
          disabled={before === undefined}
          onClick={() => before !== undefined && act.goTo(before)}
        >
          <SkipBack />
        </IconButton>
        <IconButton label="Frame before" about="One frame back." shortcut="previous" onClick={() => act.step(-1)}>
          <StepBack />
        </IconButton>
        <IconButton
          label={playing === -1 ? 'Pause' : 'Play backwards'}
          about="Plays the marked range, or all frames, from back to front."
          shortcut="playBack"
          pressed={playing === -1}
          onClick={() => act.play(playing === -1 ? 0 : -1)}
        >
          {playing === -1 ? <Pause /> : <Play className="rotate-180" />}
        </IconButton>
        <IconButton
          label={playing === 1 ? 'Pause' : 'Play'}
          about="Plays the marked range, or all frames."
          shortcut="play"
          pressed={playing === 1}
          onClick={() => act.play(playing === 1 ? 0 : 1)}
        >
          {playing === 1 ? <Pause /> : <Play />}
        </IconButton>
        <IconButton label="Frame after" about="One frame on." shortcut="next" onClick={() => act.step(1)}>
          <StepForward />
        </IconButton>
        <IconButton
          label="Key after"
          about="Of what is keyed on this subject."
          shortcut="keyAfter"
          disabled={after === undefined}
          onClick={() => after !== undefined && act.goTo(after)}
        >
          <SkipForward />
        </IconButton>
        <IconButton label="Last frame of the range" about="Of the marked range, or of the shot." shortcut="last" onClick={() => act.goTo(last)}>
          <ChevronLast />
        </IconButton>
        <IconButton
          label={range ? 'Play all frames again' : 'Loop from here on: B and N set the range'}
          about="Plays a stretch over and over."
          shortcut="loop"
          pressed={range !== null}
          onClick={() => act.toggleLoop()}
        >
          <Repeat />
        </IconButton>
      </span>
      {plate.hasSound && <SoundSwitches />}
      <span className="w-44 truncate text-right text-quiet text-xs">
        {dropped > 0 ? (
          <span className="text-doubt">{dropped === 1 ? '1 frame not shown in time' : `${dropped} frames not shown in time`}</span>
        ) : (
          <>
            {rateText(plate.rate)} frames/s{range && `, ${range.first + plate.firstNumber}–${range.last + plate.firstNumber}`}
          </>
        )}
      </span>
    </section>
  );
}

function FrameField({ frame, first, frames, onFrame }: { frame: number; first: number; frames: number; onFrame(frame: number): void }) {
  return (
    <input
      type="number"
      aria-label="Frame"
      min={first}
      max={first + frames - 1}
      value={frame + first}
      onChange={(e) => {
        const value = e.target.valueAsNumber;
        if (Number.isInteger(value)) onFrame(value - first);
      }}
      className="h-7 w-16 rounded border border-line bg-well px-2 text-right font-mono text-sm hover:border-edge"
    />
  );
}

/** When the sound of the plate is heard. */
function SoundSwitches() {
  const { playing, stepping } = useSound();
  return (
    <>
      <IconButton
        label="Sound with the picture"
        about="The plate’s own, while it plays forwards."
        pressed={playing}
        onClick={() => setSound({ playing: !playing })}
      >
        {playing ? <Volume2 /> : <VolumeX />}
      </IconButton>
      <IconButton
        label="Sound while stepping"
        about="What is heard on a frame, whenever it is come to."
        pressed={stepping}
        onClick={() => setSound({ stepping: !stepping })}
      >
        <AudioLines />
      </IconButton>
    </>
  );
}
