/** The edge of the current subject: every step of its chain, each keyed, each to be looked at without. */
import { Eye, EyeOff } from 'lucide-react';
import type { ReactNode } from 'react';
import { edgePresetEdits } from '~/core/document/library.ts';
import { FALLOFFS, type Subject } from '~/core/document/schema.ts';
import { settingsOfEdge } from '../sheet/all-settings.ts';
import type { EdgeStep } from '../state/view-store.ts';
import { useCurrentSubject, useView, useWorkbench } from '../state/workbench-context.tsx';
import { EmptyNote, PanelTitle } from '../ui/controls.tsx';
import { KeyedChoice, NumberSetting } from './fields.tsx';
import { KeyAll } from './key-all.tsx';
import { PresetsMenu } from './presets-menu.tsx';

const FALLOFF_WORDS = { smooth: 'Smooth', linear: 'Linear', gaussian: 'Gaussian' } as const;
const FALLOFF_CHOICES = FALLOFFS.map((id) => ({ id, label: FALLOFF_WORDS[id] }));

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

function EdgeFields({ subject }: { subject: Subject }) {
  const { edge, id } = subject;
  return (
    <>
      <Step step="outline" title="Outline">
        <NumberSetting
          record={id}
          setting="edge.grow"
          value={edge.grow}
          about="Moves the edge outwards; below zero inwards, against a rim of the old background."
          label="Grow"
          unit="px"
          min={-500}
          max={500}
          step={0.1}
          soft={[-40, 40]}
        />
        <NumberSetting
          record={id}
          setting="edge.roundness"
          value={edge.roundness}
          about="Smooths corners and jags up to this length away."
          label="Roundness"
          unit="px"
          min={0}
          max={200}
          step={0.5}
          soft={[0, 60]}
        />
      </Step>
      <Step step="feather" title="Feather">
        <NumberSetting
          record={id}
          setting="edge.featherIn"
          value={edge.featherIn}
          about="Softens inside the outline."
          label="Feather in"
          unit="px"
          min={0}
          max={500}
          step={0.1}
          soft={[0, 60]}
        />
        <NumberSetting
          record={id}
          setting="edge.featherOut"
          value={edge.featherOut}
          about="Softens outside the outline."
          label="Feather out"
          unit="px"
          min={0}
          max={500}
          step={0.1}
          soft={[0, 60]}
        />
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
        <NumberSetting
          record={id}
          setting="edge.firmness"
          value={edge.firmness}
          about="Makes a soft edge harder round the pivot."
          label="Firmness"
          unit="%"
          min={0}
          max={100}
          step={1}
          factor={100}
        />
        <NumberSetting
          record={id}
          setting="edge.pivot"
          value={edge.pivot}
          about="The alpha that stays where it is when the edge is made firmer."
          label="Pivot"
          unit="%"
          min={1}
          max={99}
          step={1}
          factor={100}
        />
      </Step>
      <Step step="pieces" title="Specks and holes">
        <NumberSetting
          record={id}
          setting="edge.specks"
          value={edge.specks}
          about="Takes away pieces of fewer square pixels."
          label="Specks"
          unit="px²"
          min={0}
          max={1e6}
          step={1}
          soft={[0, 400]}
        />
        <NumberSetting
          record={id}
          setting="edge.holes"
          value={edge.holes}
          about="Fills holes of fewer square pixels."
          label="Holes"
          unit="px²"
          min={0}
          max={1e6}
          step={1}
          soft={[0, 400]}
        />
      </Step>
      <Step step="steadiness" title="Steadiness">
        <NumberSetting
          record={id}
          setting="edge.steadiness"
          value={edge.steadiness}
          about="Evens out an edge that chatters from frame to frame."
          label="Steadiness"
          unit="%"
          min={0}
          max={100}
          step={1}
          factor={100}
        />
      </Step>
      <Step step="shutter" title="Shutter blur">
        <NumberSetting
          record={id}
          setting="edge.shutter"
          value={edge.shutter}
          about="Blurs the edge by its motion: 180 is usual for film."
          label="Shutter"
          unit="°"
          min={0}
          max={720}
          step={1}
          soft={[0, 360]}
        />
        <NumberSetting
          record={id}
          setting="edge.shutterPhase"
          value={edge.shutterPhase}
          about="When the shutter opens, against the frame."
          label="Phase"
          unit="°"
          min={-720}
          max={720}
          step={1}
          soft={[-180, 180]}
        />
        <NumberSetting
          record={id}
          setting="edge.shutterSamples"
          value={edge.shutterSamples}
          about="Moments that are looked at: more is smoother and slower."
          label="Samples"
          unit=""
          min={2}
          max={64}
          step={1}
        />
      </Step>
      <Step step="opacity" title="Matte over time">
        <NumberSetting
          record={id}
          setting="edge.opacity"
          value={edge.opacity}
          about="Strength of the whole matte."
          label="Opacity"
          unit="%"
          min={0}
          max={100}
          step={1}
          factor={100}
        />
      </Step>
      <Step step="cleaning" title="Colour cleaning">
        <NumberSetting
          record={id}
          setting="edge.cleaning"
          value={edge.cleaning}
          about="Takes the old background out of the colours of the soft edge."
          label="Cleaning"
          unit="%"
          min={0}
          max={100}
          step={1}
          factor={100}
        />
        <p className="px-3 pb-1 text-quiet text-xs">Takes the old background out of the colours of the soft edge, in cut-outs. Alpha stays as it is.</p>
      </Step>
      <p className="px-3 pt-2 text-quiet text-xs leading-relaxed">
        Widths are distances in plate pixels from the outline. Grow below zero pulls the edge inwards; feather in softens inside it, feather out outside it.
      </p>
    </>
  );
}
