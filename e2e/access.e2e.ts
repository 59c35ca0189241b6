import { temporaryFolder } from '../server/test/folders.ts';
import { launch } from '../server/test/launched.ts';
import { expect, test } from './support/workspace.ts';

test('where it asks who one is: the first account by the code of the start, an artist’s and a reviewer’s rights, a token, out again', async ({
  browser,
}) => {
  test.setTimeout(180_000);
  const folder = temporaryFolder();
  const launched = await launch(folder.path, { env: { YARLOP_SIGN_IN: 'yes' } });
  try {
    const code = /sign-in#([\w-]+)/.exec(launched.output())![1]!;
    const password = 'panes and putty 7';
    const context = await browser.newContext();
    const page = await context.newPage();
    // Whatever is opened, the door comes first.
    await page.goto(`${launched.address}/projects/1`);
    await expect(page.getByRole('heading', { name: 'The first account' })).toBeVisible();
    await page.goto(`${launched.address}/sign-in#${code}`);
    await page.getByLabel('Name').fill('Ada');
    await page.getByLabel('Password', { exact: true }).fill(password);
    await page.getByLabel('Password again').fill('something else');
    await page.getByRole('button', { name: 'Make the account' }).click();
    await expect(page.getByRole('alert')).toContainText('The two passwords differ');
    await page.getByLabel('Password again').fill(password);
    await page.getByRole('button', { name: 'Make the account' }).click();
    await expect(page.getByRole('heading', { name: 'Projects' })).toBeVisible();
    await page.getByRole('link', { name: 'Access' }).click();
    await page.getByLabel('Name of the account').fill('Cem');
    await page.getByLabel('Password', { exact: true }).fill(password);
    await page.getByLabel('Role of the account').selectOption('reviewer');
    await page.getByRole('button', { name: 'Make the account' }).click();
    await expect(page.locator('[data-account="Cem"]')).toContainText('reviewer');
    await page.getByLabel('Name of the token').fill('Farm');
    await page.getByRole('button', { name: 'Make the token' }).click();
    const secret = await page.locator('[data-secret]').inputValue();
    const asked = (token: string) =>
      fetch(`${launched.address}/api/v1/projects`, { headers: { Authorization: `Bearer ${token}` } }).then(
        (reply) => reply.status,
      );
    expect(await asked(secret)).toBe(200);
    await page.getByRole('button', { name: 'Withdraw Farm' }).click();
    await expect(page.locator('[data-token="Farm"]')).toContainText('withdrawn');
    expect(await asked(secret)).toBe(401);

    // A reviewer looks, and is told what they may not.
    const other = await browser.newContext();
    const reviewer = await other.newPage();
    await reviewer.goto(`${launched.address}/access`);
    await reviewer.getByLabel('Name').fill('Cem');
    await reviewer.getByLabel('Password').fill('wrong wrong');
    await reviewer.getByRole('button', { name: 'Sign in' }).click();
    await expect(reviewer.getByRole('alert')).toContainText('Name and password do not belong together');
    await reviewer.getByLabel('Password').fill(password);
    await reviewer.getByRole('button', { name: 'Sign in' }).click();
    await expect(reviewer.getByText('accounts and tokens are an owner’s')).toBeVisible();
    await reviewer.getByLabel('Password now').fill(password);
    await reviewer.getByLabel('New password').fill('glass and putty 8');
    await reviewer.getByRole('button', { name: 'Change it' }).click();
    await expect(reviewer.getByText('The password is changed')).toBeVisible();
    // Signed out, the session opens nothing any more.
    await page.getByRole('button', { name: 'Sign out Ada' }).click();
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await page.goto(`${launched.address}/`);
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await context.close();
    await other.close();
  } finally {
    await launched.stop();
    folder.remove();
  }
});
