/** The edge of the current subject: every step of its chain, each keyed, each to be looked at without. */
import { Eye, EyeOff } from 'lucide-react';
import type { ReactNode } from 'react';
import { EDGE_STEPS, type EdgeName, type EdgeSetting, type EdgeStep } from '~/core/document/edge-settings.ts';
import { edgePresetEdits } from '~/core/document/library.ts';
import type { Subject } from '~/core/document/schema.ts';
import type { Animated } from '~/core/time/animated.ts';
import { settingsOfEdge } from '../keys/all-settings.ts';
import { useCurrentSubject, useView, useWorkbench } from '../state/workbench-context.tsx';
import { EmptyNote, PanelTitle } from '../ui/controls.tsx';
import { KeyedChoice, NumberSetting } from './fields.tsx';
import { KeyAll } from './key-all.tsx';
import { PresetsMenu } from './presets-menu.tsx';

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

/** The field of one setting, as it is described. */
function EdgeField({ subject, name, setting }: { subject: Subject; name: EdgeName; setting: EdgeSetting }) {
  const path = `edge.${name}`;
  if (setting.kind === 'choice') {
    const { label, about, options } = setting;
    return <KeyedChoice record={subject.id} setting={path} value={subject.edge[name] as Animated<string>} {...{ label, about, options }} />;
  }
  const { label, about, unit, min, max, step, soft, factor = 1 } = setting;
  return (
    <NumberSetting
      record={subject.id}
      setting={path}
      value={subject.edge[name] as Animated<number>}
      {...{ label, about, unit, step, factor, min: min * factor, max: max * factor, soft: soft && [soft[0], soft[1]] }}
    />
  );
}

function EdgeFields({ subject }: { subject: Subject }) {
  return (
    <>
      {(Object.keys(EDGE_STEPS) as EdgeStep[]).map((step) => (
        <Step key={step} step={step} title={EDGE_STEPS[step].title}>
          {Object.entries(EDGE_STEPS[step].settings).map(([name, setting]) => (
            <EdgeField key={name} subject={subject} name={name as EdgeName} setting={setting} />
          ))}
        </Step>
      ))}
      <p className="px-3 pt-2 text-quiet text-xs leading-relaxed">
        Widths are distances in plate pixels from the outline. Grow below zero pulls the edge inwards; feather in softens inside it, feather out outside it.
      </p>
    </>
  );
}
