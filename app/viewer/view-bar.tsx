/** Above the picture: which view, how it is shown, Reach, and the zoom. */
import { ChartArea, ChevronDown, Spline } from 'lucide-react';
import { DropdownMenu, ToggleGroup } from 'radix-ui';
import { clamp } from '~/core/math/clamp.ts';
import { REACHES, type Reach } from '~/core/time/reach.ts';
import { useShot } from '../state/shot-context.tsx';
import { GROUNDS, type Ground, VIEWS } from '../state/view-store.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button, Hint, IconButton, MENU, MENU_ITEM } from '../ui/controls.tsx';
import { REACH_WORDS, useReachWords } from './reach-note.tsx';

const SEGMENT =
  'h-7 border border-line px-2 text-sm first:rounded-l last:rounded-r -ml-px first:ml-0 hover:bg-raised data-[state=on]:relative data-[state=on]:border-edge data-[state=on]:bg-raised data-[state=on]:text-white text-quiet';
const GROUND_WORDS: Record<Ground, string> = {
  checker: 'on checker',
  black: 'on black',
  white: 'on white',
  grey: 'on mid-grey',
  colour: 'on a colour',
  plate: 'on another shot',
};

export function ViewBar({ scale, onFit, onActual }: { scale: number; onFit(): void; onActual(): void }) {
  const { view: store, otherShots } = useWorkbench();
  const groundColour = useView((s) => s.groundColour);
  const groundPlate = useView((s) => s.groundPlate);
  const view = useView((s) => s.view);
  const outlines = useView((s) => s.outlines);
  const tint = useView((s) => s.tint);
  const ground = useView((s) => s.ground);
  const bench = useView((s) => s.bench);
  const scopes = useView((s) => s.scopes);
  const reach = useShot((s) => s.reach);
  const setReach = useShot((s) => s.setReach);
  const path = useShot((s) => s.path);
  const fade = useView((s) => s.fade);
  const words = useReachWords(path);
  return (
    <div className="flex h-10 shrink-0 items-center gap-2 overflow-hidden border-line border-b bg-panel px-2">
      <ToggleGroup.Root
        type="single"
        value={view}
        onValueChange={(id) => id && store.getState().setView(id as typeof view)}
        aria-label="View"
        className="flex shrink-0"
      >
        {VIEWS.map(({ id, label }) => (
          <Hint key={id} label={`Show ${label.toLowerCase()}`} shortcut={id}>
            <span className="contents">
              <ToggleGroup.Item value={id} className={SEGMENT}>
                {label}
              </ToggleGroup.Item>
            </span>
          </Hint>
        ))}
      </ToggleGroup.Root>
      {view === 'tint' && (
        <label className="flex shrink-0 items-center" title="Colour of the tint; the matte does not change">
          <span className="sr-only">Colour of the tint</span>
          <input
            type="color"
            value={tint}
            onChange={(e) => store.getState().set({ tint: e.target.value })}
            className="size-6 rounded border border-line bg-transparent"
          />
        </label>
      )}
      {view === 'cutout' && ground === 'colour' && (
        <input
          type="color"
          aria-label="Colour of the ground"
          value={groundColour}
          onChange={(e) => store.getState().set({ groundColour: e.target.value })}
          className="size-6 rounded border border-line bg-transparent"
        />
      )}
      {view === 'cutout' && ground === 'plate' && (
        <select
          aria-label="Shot behind the cut-out"
          className="h-7 max-w-36 rounded border border-line bg-well px-1 text-xs"
          value={groundPlate ?? ''}
          onChange={(e) => store.getState().set({ groundPlate: e.target.value || null })}
        >
          <option value="">Choose a shot</option>
          {otherShots.map((s) => (
            <option key={s.id} value={s.plateId}>
              {s.name}
            </option>
          ))}
        </select>
      )}
      {view === 'cutout' && (
        <DropdownMenu.Root modal={false}>
          <DropdownMenu.Trigger asChild>
            <Button tone="bare">
              {GROUND_WORDS[ground]} <ChevronDown className="size-3.5" aria-hidden />
            </Button>
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content className={MENU}>
              <DropdownMenu.RadioGroup value={ground} onValueChange={(g) => store.getState().set({ ground: g as Ground })}>
                {GROUNDS.map((g) => (
                  <DropdownMenu.RadioItem key={g} value={g} className={MENU_ITEM}>
                    {GROUND_WORDS[g]}
                  </DropdownMenu.RadioItem>
                ))}
              </DropdownMenu.RadioGroup>
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      )}
      <IconButton
        label={outlines ? 'Hide the curves' : 'Show the curves'}
        about="Curves over the picture; the matte stays as it is."
        shortcut="outlines"
        pressed={outlines}
        onClick={() => store.getState().set({ outlines: !outlines })}
      >
        <Spline />
      </IconButton>
      {bench === 'compose' && (
        <IconButton
          label={scopes ? 'Hide the scopes' : 'Show the scopes'}
          about="Values, columns and colours of the finished picture."
          pressed={scopes}
          onClick={() => store.getState().set({ scopes: !scopes })}
        >
          <ChartArea />
        </IconButton>
      )}
      <div className="ml-auto flex min-w-0 items-center gap-2">
        <DropdownMenu.Root modal={false}>
          <DropdownMenu.Trigger asChild>
            <Button className="min-w-0" aria-label={`Reach: ${words}`} title="Reach: which frames an edit changes (R, or 6 to 9)">
              <span className="shrink-0 text-quiet">Reach</span>
              <span className="truncate">{REACH_WORDS[reach]}</span>
              <ChevronDown className="size-3.5 shrink-0" aria-hidden />
            </Button>
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content className={`${MENU} max-w-72`} align="end">
              <DropdownMenu.RadioGroup value={reach} onValueChange={(r) => setReach(r as Reach)}>
                {REACHES.map((r) => (
                  <DropdownMenu.RadioItem key={r} value={r} className={`${MENU_ITEM} flex-col !items-start !gap-0 data-[state=checked]:bg-raised`}>
                    <span>{REACH_WORDS[r]}</span>
                    <span className="text-quiet text-xs">{REACH_ABOUT[r]}</span>
                  </DropdownMenu.RadioItem>
                ))}
              </DropdownMenu.RadioGroup>
              <p className="border-line border-t px-2 pt-2 pb-1 text-quiet text-xs">Now: {words}</p>
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
        {reach === 'marked-range' && (
          <label className="flex shrink-0 items-center gap-1 text-xs" title="Frames over which an edit of the marked range fades at its ends">
            <span className="text-quiet">fade</span>
            <input
              type="number"
              aria-label="Fade at the ends of the range, frames"
              min={0}
              max={500}
              value={fade}
              onChange={(e) => store.getState().set({ fade: clamp(Math.round(e.target.valueAsNumber) || 0, 0, 500) })}
              className="h-7 w-12 rounded border border-line bg-well px-1 text-right font-mono"
            />
          </label>
        )}
        <Hint label="Fit" shortcut="fit">
          <Button tone="bare" onClick={onFit} className="shrink-0">
            Fit
          </Button>
        </Hint>
        <Hint label="One plate pixel on one screen pixel" shortcut="actual">
          <Button tone="bare" onClick={onActual} className="w-16 shrink-0 font-mono text-xs" aria-label={`Zoom ${Math.round(scale * 100)} %; set 100 %`}>
            {Math.round(scale * 100)} %
          </Button>
        </Hint>
      </div>
    </div>
  );
}

const REACH_ABOUT: Record<Reach, string> = {
  'this-frame': 'Only the frame shown; its neighbours are held by keys of their own.',
  'between-keys': 'A key here: frames change as far as the neighbouring keys.',
  'marked-range': 'The same difference on all frames of the marked range (B and N mark it), fading at its ends.',
  'all-frames': 'The same move, turn and scale is added to every key.',
};
