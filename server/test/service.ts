import { readConfig } from '../config.ts';
import { startService, type Service } from '../start/service.ts';
import { Api } from './api.ts';
import { temporaryFolder } from './folders.ts';
import { freshDatabase } from './shared-database.ts';

export interface TestService extends Service {
  api: Api;
  dataFolder: string;
  end(): Promise<void>;
}

/**
 * The whole service on a throw-away data folder, an empty database of the run's MariaDB and a free port. `ownMariaDB`: with one of its
 * own in the data folder, where that is what a test is about.
 */
export async function startTestService(
  env: Record<string, string> = {},
  { ownMariaDB = false }: { ownMariaDB?: boolean } = {},
): Promise<TestService> {
  const folder = temporaryFolder();
  const database = env.YARLOP_DATABASE || ownMariaDB ? null : await freshDatabase();
  const service = await startService(
    readConfig(
      {
        YARLOP_PORT: '0',
        // Each takes a second and a half of a core to begin; tests mostly do one thing at a time.
        YARLOP_WORKERS: '1',
        YARLOP_LOG: process.env.TEST_LOG ?? 'silent',
        YARLOP_DATA: folder.path,
        ...(database ? { YARLOP_DATABASE: database.address } : {}),
        ...env,
      },
      folder.path,
    ),
  );
  const end = async () => {
    await service.stop();
    await database?.remove();
    if (!process.env.TEST_KEEP) folder.remove();
  };
  return { ...service, api: new Api(service.address), dataFolder: folder.path, end };
}
