/** Settings of the speed of the finished picture. */
import { X } from 'lucide-react';
import { timeMap } from '~/core/compose/timing.ts';
import { SHOT, type Timing, timingSchema } from '~/core/document/schema.ts';
import { clamp } from '~/core/math/clamp.ts';
import { framesPerSecond } from '~/core/time/rate.ts';
import { ChoiceSetting, CoordinateField, NumberSetting, PlainNumber, SwitchSetting } from '../settings/fields.tsx';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button, IconButton } from '../ui/controls.tsx';

export function TimingSettings() {
  const store = useShotStore();
  const timing = useShot((s) => s.document.timing);
  const set = (label: string, values: Partial<Timing> | null) =>
    store.getState().commit(label, [{ kind: 'assign', id: SHOT, values: { timing: values && { ...timingSchema.parse({}), ...timing, ...values } } }]);
  return (
    <>
      <SwitchSetting
        label="Own speed"
        about="On: the finished picture goes at a speed of its own, in what is played and in what is written. Off: frame for frame."
        checked={timing !== null}
        onChange={(on) => set(on ? 'Give it a speed of its own' : 'Let it go frame for frame', on ? {} : null)}
      >
        {timing ? <Length timing={timing} /> : 'frame for frame'}
      </SwitchSetting>
      {timing && (
        <>
          <NumberSetting
            record={SHOT}
            setting="timing.speed"
            value={timing.speed}
            label="Speed"
            about="How fast it goes at this frame of the shot. Keyed, it becomes quicker and slower."
            unit="%"
            min={1}
            max={10_000}
            step={1}
            soft={[5, 400]}
          />
          <ChoiceSetting<Timing['plays']>
            label="Plays"
            about="Which way it goes."
            value={timing.plays}
            options={[
              { id: 'forwards', label: 'Forwards' },
              { id: 'backwards', label: 'Backwards' },
              { id: 'to-and-fro', label: 'To and fro' },
            ]}
            onChange={(plays) => set('Set which way it plays', { plays })}
          />
          <PlainNumber
            label="Times"
            about="How often it goes, one after the other."
            unit=""
            value={timing.times}
            min={1}
            max={1000}
            slider={10}
            step={1}
            onValue={(times) => set('Set how often it plays', { times: Math.round(times) })}
          />
          <Holds timing={timing} onHolds={(label, holds) => set(label, { holds })} />
          <ChoiceSetting<Timing['between']>
            label="Between"
            about="What is shown at a time between two frames of the shot."
            value={timing.between}
            options={[
              { id: 'nearest', label: 'The nearer frame' },
              { id: 'mixed', label: 'Both, mixed' },
              { id: 'flow', label: 'Both, moved along their motion' },
            ]}
            onChange={(between) => set('Set what is between frames', { between })}
          />
          <SwitchSetting
            label="Sound"
            about="On: the plate’s sound goes along, quicker and slower with the picture."
            checked={timing.sound}
            onChange={(sound) => set(sound ? 'Let the sound go along' : 'Leave the sound out', { sound })}
          >
            {timing.sound ? 'goes along' : 'left out'}
          </SwitchSetting>
        </>
      )}
    </>
  );
}

/** How long the whole becomes. */
function Length({ timing }: { timing: Timing }) {
  const { plate } = useWorkbench();
  const { frames } = timeMap(timing, { first: 0, last: plate.frames - 1 });
  return `${plate.frames} frames become ${frames}, ${(frames / framesPerSecond(plate.rate)).toFixed(1)} s`;
}

/** Frames that stay. */
function Holds({ timing, onHolds }: { timing: Timing; onHolds(label: string, holds: Timing['holds']): void }) {
  const { plate, view } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const second = Math.round(framesPerSecond(plate.rate));
  return (
    <div className="px-3 py-1 text-sm" title="Frames of the shot at which the picture stands still for a while">
      <div className="flex items-center gap-2">
        <span className="w-20 shrink-0">Holds</span>
        <Button
          className="!h-6 text-xs"
          disabled={timing.holds.some((h) => h.frame === frame)}
          onClick={() =>
            onHolds(
              'Hold a frame',
              [...timing.holds, { frame, frames: second }].sort((a, b) => a.frame - b.frame),
            )
          }
        >
          Hold this frame
        </Button>
        {timing.holds.length === 0 && <span className="text-quiet text-xs">none</span>}
      </div>
      {timing.holds.map((hold) => {
        const shown = hold.frame + plate.firstNumber;
        return (
          <div key={hold.frame} className="flex items-center gap-1 pt-1 pl-[5.5rem]">
            <button type="button" className="font-mono text-xs hover:underline" title="Go there" onClick={() => view.getState().goTo(hold.frame)}>
              {shown}
            </button>
            <span className="min-w-0 flex-1 pl-1">
              <CoordinateField
                label="stays for, frames"
                digits={0}
                value={hold.frames}
                onValue={(frames) =>
                  onHolds(
                    'Set how long it stays',
                    timing.holds.map((h) => (h === hold ? { ...h, frames: clamp(Math.round(frames), 1, 1_000_000) } : h)),
                  )
                }
              />
            </span>
            <IconButton
              label={`Do not hold frame ${shown}`}
              about="It goes on there."
              className="!size-6"
              onClick={() =>
                onHolds(
                  'Hold no more',
                  timing.holds.filter((h) => h !== hold),
                )
              }
            >
              <X />
            </IconButton>
          </div>
        );
      })}
    </div>
  );
}
