import { launch } from '../../server/test/launched.ts';
import { temporaryFolder } from '../../server/test/folders.ts';
import { freshDatabase } from '../../server/test/shared-database.ts';
import setUpTests from '../../server/test/set-up-run.ts';

/** The service that all journeys of a run share, each in a project of its own. */
export interface RunService {
  readonly address: string;
  readonly database: string;
}

const VARIABLE = 'YARLOP_TEST_SERVICE';

export function runService(): RunService {
  return JSON.parse(process.env[VARIABLE]!) as RunService;
}

/** Playwright's global set-up: once for all journeys of a run. */
export default async function setUp(): Promise<() => Promise<void>> {
  const tearDown = await setUpTests();
  const folder = temporaryFolder();
  const database = await freshDatabase();
  const service = await launch(folder.path, { env: { YARLOP_DATABASE: database!.address } });
  process.env[VARIABLE] = JSON.stringify({
    address: service.address,
    database: database!.address,
  } satisfies RunService);
  return async () => {
    await service.stop();
    await tearDown();
    folder.remove();
  };
}
