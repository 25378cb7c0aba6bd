/** How the Sheet of a shot of 10,000 frames scrolls, in Chromium. */
import { quantile } from './quantile.ts';
import { inWorkplace, patternShot } from './workplace.ts';

const FRAMES = 10_000;

export const sheetScrolling = (): Promise<void> =>
  inWorkplace({}, async (page, address, dir) => {
    const shotId = await patternShot(address, dir, `testsrc=s=96x54:r=24:d=${FRAMES / 24}`);
    await page.goto(`${address}/shots/${shotId}/isolate`);
    await page.getByRole('grid', { name: 'Frames' }).getByRole('row').first().waitFor();
    const { gaps, rows } = await page.evaluate(async () => {
      const grid = document.querySelector('[role=grid][aria-label=Frames]') as HTMLElement;
      const scroller = [...document.querySelectorAll('*')].find((e) => e.scrollHeight > 100_000 && getComputedStyle(e).overflowY !== 'visible') as HTMLElement;
      const gaps: number[] = [];
      let rows = 0;
      let last = performance.now();
      // Two seconds as by a wheel, two seconds as by the scroll bar.
      for (let i = 0; i < 240; i++) {
        scroller.scrollTop += i < 120 ? 60 : 1500;
        await new Promise(requestAnimationFrame);
        const now = performance.now();
        gaps.push(now - last);
        last = now;
        rows = Math.max(rows, grid.querySelectorAll('[role=row]').length);
      }
      return { gaps, rows };
    });
    console.log(
      `scrolling a Sheet of ${FRAMES} rows     median ${quantile(gaps, 0.5).toFixed(1)} ms a picture, p95 ${quantile(gaps, 0.95).toFixed(1)} ms (${rows} rows at most in the page)`,
    );
  });
