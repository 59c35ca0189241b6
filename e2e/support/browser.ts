import { chromium, type Browser, type LaunchOptions } from '@playwright/test';

/** Debian's Chromium, without the background connections that a closed network refuses. */
export const LAUNCH: LaunchOptions = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
};

export function launchBrowser(): Promise<Browser> {
  return chromium.launch(LAUNCH);
}
