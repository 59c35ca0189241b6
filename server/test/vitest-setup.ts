import { temporaryFolder } from './folders.ts';
import { startSharedDatabase } from './shared-database.ts';

/** Once for all test files of a run: its database, and a folder for what is made once. */
export default async function setUp(): Promise<() => Promise<void>> {
  const fixtures = temporaryFolder();
  process.env.YARLOP_TEST_FIXTURES ??= fixtures.path;
  const endDatabase = await startSharedDatabase();
  return async () => {
    await endDatabase();
    fixtures.remove();
  };
}
