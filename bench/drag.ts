/** How a drag of many points feels: frames a second while it goes on, and how soon the tint has followed, in Chromium. */

import { newSpline } from '../core/document/part-kinds/spline.ts';
import { newPath, newSubject } from '../core/document/records.ts';
import { smooth } from '../core/path/path.ts';
import { quantile } from './quantile.ts';
import { inWorkplace, patternShot, sendJson } from './workplace.ts';

const GOAL_RATE = 60;
const GOAL_TINT = 50;

/** Five rings of sixty points each on a plate of 1920x1080. */
function rings() {
  const subject = newSubject('rings', 'Rings');
  const paths = Array.from({ length: 5 }, (_, p) =>
    newPath(
      `ring${p}`,
      0,
      Array.from({ length: 60 }, (_, i) => {
        const a = (i / 60) * 2 * Math.PI;
        const r = 110 + 12 * Math.sin(a * 7);
        const k = (r * 2 * Math.PI) / 180;
        return smooth(420 + p * 260 + r * Math.cos(a), 540 + r * Math.sin(a), -k * Math.sin(a), k * Math.cos(a));
      }),
      true,
    ),
  );
  subject.parts.push(newSpline('part', 'Rings', paths));
  return subject;
}

export const dragging = (): Promise<void> =>
  inWorkplace({}, async (page, address, dir) => {
    const shotId = await patternShot(address, dir, 'testsrc2=s=1920x1080:r=24:d=1');
    const edits = [{ kind: 'insert', parent: 'cast', index: 0, record: rings() }];
    await sendJson(`${address}/shots/${shotId}/changes`, 'POST', { role: 'do', page: 'bench', change: { id: 'rings', label: 'Rings', edits } });
    await page.goto(`${address}/shots/${shotId}/isolate`);
    await page.getByRole('button', { name: 'Rings', exact: true }).last().click();
    await page.locator('[data-viewer]').focus();
    await page.keyboard.press('Shift+A');
    const box = await page.locator('[data-viewer]').boundingBox();
    if (!box) throw new Error('There is no viewer.');
    const scale = Math.min((box.width - 28) / 1920, (box.height - 28) / 1080);
    const [x0, y0] = [box.x + (box.width - 1920 * scale) / 2, box.y + (box.height - 1080 * scale) / 2];
    // The first point of the first ring.
    const [x, y] = [x0 + 530 * scale, y0 + 540 * scale];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 6, y + 6);
    await page.waitForTimeout(500);
    // As text: what bundlers add to named functions is not known in the page.
    await page.evaluate(`performance.clearMeasures('mottrel-edit'); window.ticks = [];
      requestAnimationFrame(function tick(t) { window.ticks.push(t); requestAnimationFrame(tick); });`);
    for (let i = 0; i < 120; i++) {
      await page.mouse.move(x + 30 * Math.sin(i / 9), y + 20 * Math.cos(i / 7));
      await page.waitForTimeout(12);
    }
    const { ticks, tint } = await page.evaluate(() => ({
      ticks: (window as unknown as { ticks: number[] }).ticks,
      tint: performance.getEntriesByName('mottrel-edit').map((e) => e.duration),
    }));
    await page.mouse.up();
    const gaps = ticks.slice(1).map((t, i) => t - ticks[i]);
    console.log(
      `dragging 300 points in 5 curves     ${(1000 / (gaps.reduce((a, b) => a + b, 0) / gaps.length)).toFixed(0)} frames/s of ${GOAL_RATE} (longest ${quantile(gaps, 1).toFixed(0)} ms)`,
    );
    console.log(
      `tint after the last move            median ${quantile(tint, 0.5)?.toFixed(1)} ms, p95 ${quantile(tint, 0.95)?.toFixed(1)} ms of ${GOAL_TINT} ms (${tint.length} seen)`,
    );
  });
