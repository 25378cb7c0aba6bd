/** The edge of the current subject: every step of its chain, each keyed, each to be looked at without. */
import { Eye, EyeOff } from 'lucide-react';
import type { ComponentProps, ReactNode } from 'react';
import { edgePresetEdits } from '~/core/document/library.ts';
import { type Edge, FALLOFFS, type Subject } from '~/core/document/schema.ts';
import { settingsOfEdge } from '../sheet/all-settings.ts';
import type { EdgeStep } from '../state/view-store.ts';
import { useCurrentSubject, useView, useWorkbench } from '../state/workbench-context.tsx';
import { EmptyNote, PanelTitle } from '../ui/controls.tsx';
import { KeyedChoice, NumberSetting } from './fields.tsx';
import { KeyAll } from './key-all.tsx';
import { PresetsMenu } from './presets-menu.tsx';

const FALLOFF_WORDS = { smooth: 'Smooth', linear: 'Linear', gaussian: 'Gaussian' } as const;
const FALLOFF_CHOICES = FALLOFFS.map((id) => ({ id, label: FALLOFF_WORDS[id] }));

/** The steps of the edge that are numbers: what they are called, what they do, and their bounds. */
const NUMBERS: Record<Exclude<keyof Edge, 'falloff'>, Omit<ComponentProps<typeof NumberSetting>, 'record' | 'setting' | 'value'>> = {
  grow: {
    label: 'Grow',
    about: 'Moves the edge outwards; below zero inwards, against a rim of the old background.',
    unit: 'px',
    min: -500,
    max: 500,
    step: 0.1,
    soft: [-40, 40],
  },
  roundness: { label: 'Roundness', about: 'Smooths corners and jags up to this length away.', unit: 'px', min: 0, max: 200, step: 0.5, soft: [0, 60] },
  featherIn: { label: 'Feather in', about: 'Softens inside the outline.', unit: 'px', min: 0, max: 500, step: 0.1, soft: [0, 60] },
  featherOut: { label: 'Feather out', about: 'Softens outside the outline.', unit: 'px', min: 0, max: 500, step: 0.1, soft: [0, 60] },
  firmness: { label: 'Firmness', about: 'Makes a soft edge harder round the pivot.', unit: '%', min: 0, max: 100, step: 1, factor: 100 },
  pivot: { label: 'Pivot', about: 'The alpha that stays where it is when the edge is made firmer.', unit: '%', min: 1, max: 99, step: 1, factor: 100 },
  specks: { label: 'Specks', about: 'Takes away pieces of fewer square pixels.', unit: 'px²', min: 0, max: 1e6, step: 1, soft: [0, 400] },
  holes: { label: 'Holes', about: 'Fills holes of fewer square pixels.', unit: 'px²', min: 0, max: 1e6, step: 1, soft: [0, 400] },
  steadiness: { label: 'Steadiness', about: 'Evens out an edge that chatters from frame to frame.', unit: '%', min: 0, max: 100, step: 1, factor: 100 },
  shutter: { label: 'Shutter', about: 'Blurs the edge by its motion: 180 is usual for film.', unit: '°', min: 0, max: 720, step: 1, soft: [0, 360] },
  shutterPhase: { label: 'Phase', about: 'When the shutter opens, against the frame.', unit: '°', min: -720, max: 720, step: 1, soft: [-180, 180] },
  shutterSamples: { label: 'Samples', about: 'Moments that are looked at: more is smoother and slower.', unit: '', min: 2, max: 64, step: 1 },
  opacity: { label: 'Opacity', about: 'Strength of the whole matte.', unit: '%', min: 0, max: 100, step: 1, factor: 100 },
  cleaning: { label: 'Cleaning', about: 'Takes the old background out of the colours of the soft edge.', unit: '%', min: 0, max: 100, step: 1, factor: 100 },
};

export function EdgeSettings() {
  const subject = useCurrentSubject();
  return (
    <section aria-label="Edge" data-settings className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle
        actions={
          subject && (
            <>
              <KeyAll of="edge" settings={settingsOfEdge(subject)} />
              <PresetsMenu
                of="edge"
                start={subject.name}
                fits={(entry) => entry.kind === 'edge'}
                item={(name) => ({ kind: 'edge', name, content: subject.edge })}
                edits={(entry, frame) => (entry.kind === 'edge' ? edgePresetEdits(subject.id, entry.content, frame) : [])}
              />
            </>
          )
        }
      >
        {subject ? `Edge: ${subject.name}` : 'Edge'}
      </PanelTitle>
      <div className="min-h-0 flex-1 overflow-auto py-2">
        {!subject && <EmptyNote>The edge belongs to a subject. Isolate one first.</EmptyNote>}
        {subject && <EdgeFields subject={subject} />}
      </div>
    </section>
  );
}

/** A step of the chain with a switch that shows the picture without it; the document does not change. */
function Step({ step, title, children }: { step: EdgeStep; title: string; children: ReactNode }) {
  const { view } = useWorkbench();
  const without = useView((s) => s.without);
  const off = without.includes(step);
  return (
    <section aria-label={title} className={`border-line border-b pb-1 ${off ? 'opacity-60' : ''}`}>
      <h3 className="flex items-center px-3 pt-1.5 font-semibold text-xs">
        <span className="flex-1">{title}</span>
        <button
          type="button"
          aria-pressed={off}
          aria-label={off ? `Show with ${title.toLowerCase()} again` : `Show without ${title.toLowerCase()}`}
          title={off ? 'Shown without this step (outputs have it). Press to show it again.' : 'Before and after: show the picture without this step'}
          className="flex size-6 items-center justify-center rounded text-quiet hover:bg-raised hover:text-ink aria-pressed:text-doubt"
          onClick={() => view.getState().set({ without: off ? without.filter((s) => s !== step) : [...without, step] })}
        >
          {off ? <EyeOff className="size-3.5" /> : <Eye className="size-3.5" />}
        </button>
      </h3>
      {children}
    </section>
  );
}

function EdgeNumber({ subject, name }: { subject: Subject; name: keyof typeof NUMBERS }) {
  return <NumberSetting record={subject.id} setting={`edge.${name}`} value={subject.edge[name]} {...NUMBERS[name]} />;
}

function EdgeFields({ subject }: { subject: Subject }) {
  const { edge, id } = subject;
  return (
    <>
      <Step step="outline" title="Outline">
        <EdgeNumber subject={subject} name="grow" />
        <EdgeNumber subject={subject} name="roundness" />
      </Step>
      <Step step="feather" title="Feather">
        <EdgeNumber subject={subject} name="featherIn" />
        <EdgeNumber subject={subject} name="featherOut" />
        <KeyedChoice
          record={id}
          setting="edge.falloff"
          value={edge.falloff}
          about="How alpha falls over the soft band."
          label="Falloff"
          options={FALLOFF_CHOICES}
        />
      </Step>
      <Step step="firmness" title="Firmness">
        <EdgeNumber subject={subject} name="firmness" />
        <EdgeNumber subject={subject} name="pivot" />
      </Step>
      <Step step="pieces" title="Specks and holes">
        <EdgeNumber subject={subject} name="specks" />
        <EdgeNumber subject={subject} name="holes" />
      </Step>
      <Step step="steadiness" title="Steadiness">
        <EdgeNumber subject={subject} name="steadiness" />
      </Step>
      <Step step="shutter" title="Shutter blur">
        <EdgeNumber subject={subject} name="shutter" />
        <EdgeNumber subject={subject} name="shutterPhase" />
        <EdgeNumber subject={subject} name="shutterSamples" />
      </Step>
      <Step step="opacity" title="Matte over time">
        <EdgeNumber subject={subject} name="opacity" />
      </Step>
      <Step step="cleaning" title="Colour cleaning">
        <EdgeNumber subject={subject} name="cleaning" />
        <p className="px-3 pb-1 text-quiet text-xs">Takes the old background out of the colours of the soft edge, in cut-outs. Alpha stays as it is.</p>
      </Step>
      <p className="px-3 pt-2 text-quiet text-xs leading-relaxed">
        Widths are distances in plate pixels from the outline. Grow below zero pulls the edge inwards; feather in softens inside it, feather out outside it.
      </p>
    </>
  );
}
