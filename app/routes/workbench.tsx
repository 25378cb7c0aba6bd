import { ChartLine, ChartSpline, PanelLeft, PanelRight } from 'lucide-react';
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { Group, Panel, Separator, usePanelRef } from 'react-resizable-panels';
import { redirect, type ShouldRevalidateFunctionArgs } from 'react-router';
import { toast } from 'sonner';
import { findRecord } from '~/core/document/edits.ts';
import { firstWorkedFrame } from '~/core/document/first-worked.ts';
import type { ShotDocument } from '~/core/document/schema.ts';
import { useCommands } from '../bench/commands.ts';
import { GuidePanel } from '../bench/guide-panel.tsx';
import { NextStepBar, type NextStepHandle } from '../bench/next-step.tsx';
import { Palette } from '../bench/palette.tsx';
import { PANEL_SIZES, usePanelSizes } from '../bench/panel-sizes.ts';
import { TopBar } from '../bench/top-bar.tsx';
import { useShortcuts } from '../bench/use-shortcuts.ts';
import { CastPanel } from '../cast/cast-panel.tsx';
import { MatteChart } from '../charts/matte-chart.tsx';
import { TrackChart } from '../charts/track-chart.tsx';
import { CurveEditor } from '../curves/curve-editor.tsx';
import { Pictures, type View } from '../frame/pictures.ts';
import { ItemSettings } from '../lanes/item-settings.tsx';
import { LanesPanel } from '../lanes/lanes-panel.tsx';
import { OutputsPanel } from '../outputs/outputs-panel.tsx';
import { Ribbon } from '../ribbon/ribbon.tsx';
import { EdgeSettings } from '../settings/edge-settings.tsx';
import { PartSettings } from '../settings/part-settings.tsx';
import { Sheet } from '../sheet/sheet.tsx';
import { type BenchId, isBench } from '../state/benches.ts';
import { openGuide } from '../state/guide.ts';
import { keepLeftOff, leftOff } from '../state/left-off.ts';
import { useNeighbours, useOtherShotsWatch } from '../state/other-shots.ts';
import { usePeelAhead, usePeelMending, usePeelWatch } from '../state/peel.ts';
import { useReadyWatch } from '../state/ready.ts';
import { useUnseenWatch } from '../state/remarks.ts';
import { ShotContext, useShot } from '../state/shot-context.tsx';
import { createShotStore } from '../state/shot-store.ts';
import { createViewStore, VIEWS } from '../state/view-store.ts';
import { type PlateFacts, useCurrentSubjectId, useView, useWorkbench, useWorkedTrack, WorkbenchContext } from '../state/workbench-context.tsx';
import { IconButton } from '../ui/controls.tsx';
import { Transport } from '../viewer/transport.tsx';
import { Viewer } from '../viewer/viewer.tsx';
import type { Route } from './+types/workbench';
import { orErrorPage } from './answer.ts';

export const meta: Route.MetaFunction = ({ data }) => [{ title: `${data?.name ?? 'Shot'} – Mottrel` }];

export const loader = ({ params, context }: Route.LoaderArgs) =>
  orErrorPage(context, async () => {
    const { shots, changes } = context.services;
    if (!isBench(params.bench)) throw redirect(`/shots/${params.shotId}/isolate`);
    const { shot, plate, production } = await shots.shot(params.shotId);
    shots.requireReady(plate);
    const { document, revision, log } = await changes.load(shot.id);
    const facts: PlateFacts = {
      id: plate.id,
      width: document.plate.width,
      height: document.plate.height,
      proxyWidth: plate.proxyWidth ?? document.plate.width,
      proxyHeight: plate.proxyHeight ?? document.plate.height,
      frames: document.plate.frames,
      rate: document.plate.rate,
      firstNumber: document.plate.firstNumber,
      hasSound: plate.hasSound,
      damage: shots.probeOf(plate).damage,
    };
    const otherShots = await shots.neighbours(shot.id);
    const { outputs, queue } = context.services;
    const written = await outputs.countDone(queue, shot.id);
    const work = { written, carryCost: queue.cost('carry'), threads: queue.threads, formats: outputs.formats };
    return { shotId: shot.id, name: shot.name, production, otherShots, plate: facts, document, revision, log, work };
  });

/** The open page keeps itself up to date; changing the bench must not load the document again. */
export const shouldRevalidate = ({ currentParams, nextParams }: ShouldRevalidateFunctionArgs) => currentParams.shotId !== nextParams.shotId;

export default function WorkbenchPage({ loaderData, params }: Route.ComponentProps) {
  return <Workbench key={loaderData.shotId} data={loaderData} bench={params.bench as BenchId} />;
}

/** Where the page opens: as its address says, else where the shot was left last time, else where there is something to see. */
function startingPoint(shotId: string, bench: BenchId, document: ShotDocument): { frame: number; view: View | undefined; item: string | null } {
  const query = new URLSearchParams(window.location.search);
  const { firstNumber } = document.plate;
  const asked = query.get('frame');
  const left = leftOff(shotId);
  const viewOf = (name: string | null | undefined) => VIEWS.find((v) => v.id === name)?.id;
  if (asked !== null && Number.isInteger(Number(asked)))
    return { frame: Number(asked) - firstNumber, view: viewOf(query.get('view')), item: query.get('item') ?? query.get('subject') };
  if (left) return { frame: left.frame, view: left.bench === bench ? viewOf(left.view) : undefined, item: left.item };
  return { frame: firstWorkedFrame(document), view: undefined, item: query.get('item') ?? query.get('subject') };
}

function Workbench({ data, bench }: { data: Route.ComponentProps['loaderData']; bench: BenchId }) {
  const { plate, shotId } = data;
  const [shot] = useState(() => createShotStore(shotId, data));
  const [view] = useState(() => createViewStore({ frames: plate.frames, plate, frame: 0, bench }));
  const [pictures, setPictures] = useState<Pictures | null>(null);
  const { production, work } = data;
  const otherShots = useNeighbours(shotId, data.otherShots);
  const workbench = useMemo(
    () => ({ plate, view, pictures, otherShots, productionId: production.id, ...work }),
    [plate, view, pictures, otherShots, production.id, work],
  );

  useEffect(() => {
    const { settled } = shot.getState().history;
    const start = startingPoint(shotId, bench, settled);
    view.getState().goTo(start.frame);
    if (start.view) view.getState().setView(start.view);
    if (start.item && findRecord(settled, start.item)) shot.getState().select(start.item);
    openGuide(new URLSearchParams(window.location.search).get('guide'));
  }, []);
  useEffect(() => shot.getState().open(), [shot]);
  useEffect(() => {
    const made = new Pictures(plate.id, plate.frames, {
      full: { width: plate.width, height: plate.height },
      proxy: { width: plate.proxyWidth, height: plate.proxyHeight },
    });
    made.onWords = (text) => void toast(text, { id: text });
    setPictures(made);
    return () => made.close();
  }, [plate]);

  return (
    <ShotContext value={shot}>
      <WorkbenchContext value={workbench}>
        <Layout data={data} bench={bench} />
      </WorkbenchContext>
    </ShotContext>
  );
}

/** Keeps the address in step with what is shown, so that it can be kept and sent. */
function useAddress(bench: BenchId): void {
  const { plate } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const shown = useView((s) => s.view);
  const selected = useShot((s) => s.selected);
  const subject = useCurrentSubjectId();
  const shotId = useShot((s) => s.shotId);
  useEffect(() => {
    const timer = setTimeout(() => {
      const query = new URLSearchParams({ frame: String(frame + plate.firstNumber), view: shown });
      if (subject) query.set('subject', subject);
      if (selected && selected !== subject) query.set('item', selected);
      window.history.replaceState(window.history.state, '', `/shots/${shotId}/${bench}?${query}`);
      keepLeftOff(shotId, { bench, frame, view: shown, item: selected ?? subject, at: Date.now() });
    }, 120);
    return () => clearTimeout(timer);
  }, [shotId, bench, frame, shown, selected, subject, plate]);
}

/** What goes on beside what is shown: the layout is not drawn anew for each frame because of it. */
function Watches({ bench }: { bench: BenchId }) {
  useAddress(bench);
  usePeelWatch();
  useOtherShotsWatch();
  usePeelMending();
  usePeelAhead();
  useUnseenWatch();
  useReadyWatch();
  return null;
}

function Layout({ data, bench }: { data: Route.ComponentProps['loaderData']; bench: BenchId }) {
  const [listOpen, setListOpen] = useState(false);
  const next = useRef<NextStepHandle>(null);
  const commands = useCommands({ nextStep: () => next.current?.act(), commands: () => setListOpen(true) });
  useShortcuts(commands);
  const { view } = useWorkbench();
  useEffect(() => view.getState().goToBench(bench), [bench, view]);
  // Curves are for isolating; where edge and picture are judged they are out of the way until asked for.
  useEffect(() => view.getState().set({ outlines: bench === 'isolate' }), [bench, view]);
  const curvesOpen = useView((s) => s.curvesOpen);
  const chartOpen = useView((s) => s.chartOpen);
  const track = useWorkedTrack();
  const left = usePanelRef();
  const right = usePanelRef();
  const panels = usePanelSizes({ left, right });
  const toggle = (panel: typeof left) => {
    if (panel.current?.isCollapsed()) panel.current.expand();
    else panel.current?.collapse();
  };
  return (
    <div className="flex min-h-[36rem] flex-1 basis-0 flex-col overflow-hidden">
      <Watches bench={bench} />
      <TopBar production={data.production} name={data.name} bench={bench} onCommands={() => setListOpen(true)} />
      <main className="flex min-h-0 flex-1">
        <Group orientation="horizontal" className="min-h-0 flex-1">
          <Panel
            panelRef={left}
            id="left"
            defaultSize={PANEL_SIZES.left}
            onResize={panels.onResize}
            minSize={220}
            maxSize={520}
            collapsible
            collapsedSize={0}
            groupResizeBehavior="preserve-pixel-size"
          >
            <div className="flex h-full min-h-0 flex-col">
              <GuidePanel />
              <div className="min-h-0 flex-1">
                <LeftPanels bench={bench} />
              </div>
            </div>
          </Panel>
          <Grip />
          <Panel id="middle" minSize={360}>
            <div className="flex h-full min-h-0 flex-col">
              <Viewer />
              <NextStepBar ref={next} />
              <Transport />
              <div className="flex items-center bg-panel">
                <IconButton label="Show or hide the left panels" about="Gives the picture their room." className="ml-1" onClick={() => toggle(left)}>
                  <PanelLeft />
                </IconButton>
                <div className="min-w-0 flex-1">
                  <Ribbon />
                </div>
                <IconButton
                  label={chartOpen ? 'Hide the chart' : `Chart of the ${track ? 'track' : 'matte'} over time`}
                  about="How it goes over the frames, as a chart."
                  pressed={chartOpen}
                  onClick={() => view.getState().set({ chartOpen: !chartOpen })}
                >
                  <ChartLine />
                </IconButton>
                <IconButton
                  label={curvesOpen ? 'Hide the curves over time' : 'Curves over time'}
                  about="Values and speeds of what is keyed, as curves to pull at."
                  shortcut="curves"
                  pressed={curvesOpen}
                  onClick={() => view.getState().set({ curvesOpen: !curvesOpen })}
                >
                  <ChartSpline />
                </IconButton>
                <IconButton label="Show or hide the Sheet" about="Gives the picture its room." className="mr-1" onClick={() => toggle(right)}>
                  <PanelRight />
                </IconButton>
              </div>
              {curvesOpen && <CurveEditor />}
              {chartOpen && (track ? <TrackChart track={track} /> : <MatteChart />)}
            </div>
          </Panel>
          <Grip />
          <Panel
            panelRef={right}
            id="right"
            defaultSize={PANEL_SIZES.right}
            onResize={panels.onResize}
            minSize={150}
            maxSize={640}
            collapsible
            collapsedSize={0}
            groupResizeBehavior="preserve-pixel-size"
          >
            <Sheet />
          </Panel>
        </Group>
      </main>
      <Palette open={listOpen} onOpenChange={setListOpen} commands={commands} />
    </div>
  );
}

function LeftPanels({ bench }: { bench: BenchId }) {
  if (bench === 'output') return <OutputsPanel />;
  const [upper, lower]: [ReactNode, ReactNode] =
    bench === 'compose'
      ? [<LanesPanel key="lanes" />, <ItemSettings key="item" />]
      : [<CastPanel key="cast" />, bench === 'edge' ? <EdgeSettings key="edge" /> : <PartSettings key="part" />];
  return (
    <Group orientation="vertical" className="h-full">
      <Panel id="upper" defaultSize="46" minSize={120}>
        {upper}
      </Panel>
      <Grip vertical />
      <Panel id="lower" minSize={120}>
        {lower}
      </Panel>
    </Group>
  );
}

function Grip({ vertical = false }: { vertical?: boolean }) {
  return (
    <Separator
      aria-label="Resize the panels"
      className={`shrink-0 bg-well hover:bg-edge data-[separator=active]:bg-ink ${vertical ? 'h-1 w-full' : 'h-full w-1'}`}
    />
  );
}
