import { createConnection, createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { freshDatabase, type FreshDatabase } from './shared-database.ts';

/** A database of a house's, reached by network. The way there can be cut, as when its machine or the network is gone. */
export class NetworkDatabase {
  private server: Server | null = null;
  private readonly open = new Set<Socket>();
  private port = 0;

  private constructor(private readonly database: FreshDatabase) {}

  static async start(): Promise<NetworkDatabase> {
    const database = await freshDatabase();
    if (!database)
      throw new Error('the database of the test run is not there: vitest starts it (server/test/set-up-run.ts)');
    const networked = new NetworkDatabase(database);
    await networked.join();
    return networked;
  }

  get address(): string {
    const url = new URL(this.database.address);
    url.port = String(this.port);
    return url.href;
  }

  async join(): Promise<void> {
    const { hostname, port } = new URL(this.database.address);
    this.server = createServer((near) => {
      const far = createConnection(Number(port), hostname);
      for (const one of [near, far]) {
        this.open.add(one);
        one
          .on('error', () => {})
          .on('close', () => {
            this.open.delete(one);
            near.destroy();
            far.destroy();
          });
      }
      near.pipe(far).pipe(near);
    });
    await new Promise<void>((resolve) => this.server!.listen(this.port, '127.0.0.1', resolve));
    this.port = (this.server.address() as AddressInfo).port;
  }

  async cut(): Promise<void> {
    const closed = new Promise<void>((resolve) => this.server!.close(() => resolve()));
    for (const one of this.open) one.destroy();
    await closed;
  }

  async stop(): Promise<void> {
    await this.cut();
    await this.database.remove();
  }
}
