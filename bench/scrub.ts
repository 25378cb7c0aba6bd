/** How soon the right frame stands in the viewer after a step, in Chromium, with frames that were seen before. */
import { quantile } from './quantile.ts';
import { inWorkplace } from './workplace.ts';

const GOAL = 40;

export const scrubbing = (): Promise<void> =>
  inWorkplace({ demo: true }, async (page, address) => {
    await page.goto(address);
    await page.getByRole('link', { name: 'Low Tide Post' }).click();
    await page.getByRole('list', { name: 'Shots' }).getByRole('link', { name: 'Courier on the quay' }).click();
    await page.getByLabel('Saving').getByText('Saved').waitFor();
    const plateId = await page.evaluate(() =>
      performance
        .getEntriesByType('resource')
        .map((e) => /plates\/([0-9a-f-]{36})/.exec(e.name)?.[1])
        .find(Boolean),
    );
    const fetching = await page.evaluate(async (plate) => {
      const times: number[] = [];
      for (let f = 0; f < 60; f++) {
        const start = performance.now();
        const blob = await (await fetch(`/plates/${plate}/proxy/${f}`, { cache: 'no-store' })).blob();
        await createImageBitmap(blob);
        times.push(performance.now() - start);
      }
      return times;
    }, plateId);
    await page.keyboard.press('1');
    const ribbon = page.getByRole('slider', { name: /^Ribbon/ });
    const box = await ribbon.boundingBox();
    if (!box) throw new Error('There is no ribbon.');
    const sweep = async () => {
      await page.mouse.move(box.x + 2, box.y + 20);
      await page.mouse.down();
      for (let x = 2; x < box.width; x += 9) {
        await page.mouse.move(box.x + x, box.y + 20);
        await page.waitForTimeout(25);
      }
      await page.mouse.up();
    };
    await sweep();
    await page.waitForTimeout(1500);
    await page.evaluate(() => performance.clearMeasures('mottrel-frame'));
    await sweep();
    await page.waitForTimeout(300);
    const shown = await page.evaluate(() => performance.getEntriesByName('mottrel-frame').map((e) => e.duration));
    console.log(
      `fetch and decode of a proxy frame   median ${quantile(fetching, 0.5).toFixed(1)} ms, p95 ${quantile(fetching, 0.95).toFixed(1)} ms (${fetching.length} frames, no cache)`,
    );
    console.log(
      `scrubbing cached frames             median ${quantile(shown, 0.5).toFixed(1)} ms, p95 ${quantile(shown, 0.95).toFixed(1)} ms of ${GOAL} ms (${shown.length} frames shown)`,
    );
  });
