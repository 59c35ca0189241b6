import { temporaryFolder } from './folders.ts';
import { startSharedDatabase } from './shared-database.ts';

/** Once for all tests of a run, of vitest or of the browser: its database, and a folder for what is made once. Returns what ends both. */
export default async function setUpRun(): Promise<() => Promise<void>> {
  const fixtures = temporaryFolder();
  process.env.YARLOP_TEST_FIXTURES = fixtures.path;
  const endDatabase = await startSharedDatabase();
  return async () => {
    await endDatabase();
    delete process.env.YARLOP_TEST_FIXTURES;
    fixtures.remove();
  };
}
