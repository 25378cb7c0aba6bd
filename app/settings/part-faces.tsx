/** What the interface shows of each kind of part; one more is a line here, and a panel of its own. */
import { Brush, CircleHelp, Combine, Image, Shapes } from 'lucide-react';
import type { ComponentType } from 'react';
import { placedSpline } from '~/core/document/follow.ts';
import { circleOfSubjects } from '~/core/document/parts.ts';
import { type ImportedPart, type JoinedPart, OUTLINE_COLOURS, type OutlineColour, type Part, type SplinePart } from '~/core/document/schema.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import type { ToolId } from '../tools/index.ts';
import { OUTLINE_HEX } from '../viewer/curves-canvas.ts';
import { CurveSettings } from './curve-settings.tsx';
import { ChoiceSetting, NumberSetting } from './fields.tsx';
import { PeelSettings } from './peel-settings.tsx';

interface PartFace<P extends Part> {
  icon: ComponentType<{ className?: string; style?: { color: string } }>;
  /** Where it masks: as it is, and inverted. */
  masks: readonly [string, string];
  /** In hand after a double click on it. */
  tool: ToolId;
  /** Settings that this kind alone has. */
  Own: ComponentType<{ part: P }>;
}

function ColourField({ colour, onColour }: { colour: OutlineColour; onColour(colour: OutlineColour): void }) {
  return (
    <div className="flex items-center gap-2 px-3 py-1 text-sm" role="radiogroup" aria-label="Colour of the outline">
      <span className="w-20 shrink-0">Outline</span>
      <span className="flex flex-wrap gap-1">
        {OUTLINE_COLOURS.map((c) => (
          <button
            key={c}
            type="button"
            role="radio"
            aria-checked={colour === c}
            aria-label={c}
            title={c}
            onClick={() => onColour(c)}
            className="size-5 rounded-full border-2 aria-checked:border-ink aria-checked:ring-2 aria-checked:ring-well aria-checked:ring-inset"
            style={{ background: OUTLINE_HEX[c], borderColor: colour === c ? undefined : 'transparent' }}
          />
        ))}
      </span>
    </div>
  );
}

function SplineSettings({ part }: { part: SplinePart }) {
  const store = useShotStore();
  const tracks = useShot((s) => s.document.tracks);
  const setColour = (value: OutlineColour) => store.getState().commit('Set outline colour', [{ kind: 'assign', id: part.id, values: { colour: value } }]);
  return (
    <>
      <ColourField colour={part.colour} onColour={setColour} />
      <CurveSettings part={placedSpline({ tracks }, part)} />
    </>
  );
}

function ImportedSettings({ part }: { part: ImportedPart }) {
  const { plate } = useWorkbench();
  return (
    <NumberSetting
      record={part.id}
      setting="offset"
      value={part.offset}
      label="Starts on"
      about="Frame of the shot on which the first frame of the matte lies."
      unit="fr"
      min={-10_000_000}
      max={10_000_000}
      step={1}
      soft={[-plate.frames, plate.frames]}
    />
  );
}

/** The subject whose matte it is. */
function JoinedSettings({ part }: { part: JoinedPart }) {
  const store = useShotStore();
  const document = useShot((s) => s.document);
  const own = document.cast.find((s) => s.parts.some((p) => p.id === part.id));
  const others = document.cast.filter((s) => own && !circleOfSubjects(document, own.id, s.id));
  return (
    <ChoiceSetting
      label="Subject"
      about="The subject whose matte this part is, with its edge."
      value={part.subject}
      options={others.map((s) => ({ id: s.id, label: s.name }))}
      onChange={(subject) => store.getState().commit('Set subject of part', [{ kind: 'assign', id: part.id, values: { subject } }])}
    />
  );
}

const FACES: { [T in Part['type']]: PartFace<Extract<Part, { type: T }>> } = {
  spline: { icon: Shapes, masks: ['inside its curves', 'outside its curves'], tool: 'edit', Own: SplineSettings },
  imported: { icon: Image, masks: ['white is inside', 'black is inside'], tool: 'edit', Own: ImportedSettings },
  peel: { icon: Brush, masks: ['what is found', 'all but what is found'], tool: 'brush', Own: PeelSettings },
  joined: { icon: Combine, masks: ['where that subject is', 'where it is not'], tool: 'edit', Own: JoinedSettings },
  foreign: { icon: CircleHelp, masks: ['nothing', 'nothing'], tool: 'edit', Own: () => null },
};

export const faceOf = (part: Part): PartFace<Part> => FACES[part.type] as unknown as PartFace<Part>;
