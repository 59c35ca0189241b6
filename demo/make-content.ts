/** Draws the demo's content pictures (HTML, in the shipped typeface) with Chromium. Run by `npm run demo:make -- content`. */
import { chromium } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { bedTemperatures, ordersList, pottingRound, wateringPlan } from './textures/content-pages.ts';

const root = join(import.meta.dirname, '..');

export async function makeContent(): Promise<void> {
  const font = readFileSync(
    join(root, 'node_modules/@fontsource-variable/archivo/files/archivo-latin-wght-normal.woff2'),
  ).toString('base64');
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
    args: ['--no-sandbox'],
  });
  try {
    for (const page of [bedTemperatures, ordersList, pottingRound, wateringPlan]) {
      const tab = await browser.newPage({ viewport: { width: page.width, height: page.height } });
      await tab.setContent(`<style>@font-face{font-family:Archivo;src:url(data:font/woff2;base64,${font});font-weight:100 900}
        *{box-sizing:border-box;margin:0}body{font-family:Archivo;font-variant-numeric:tabular-nums}</style>${page.html}`);
      await tab.evaluate('document.fonts.ready');
      await tab.screenshot({ path: join(root, 'demo/content', page.file) });
      await tab.close();
    }
  } finally {
    await browser.close();
  }
}
