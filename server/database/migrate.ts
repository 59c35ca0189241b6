import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import { Umzug } from 'umzug';
import { databaseName, reach, type DatabaseAddress } from './connection.ts';

/** Makes the database when it is missing and runs the migrations that it has not seen, in the order of their numbers. */
export async function migrate(address: DatabaseAddress): Promise<string[]> {
  const connection = await mysql.createConnection({ ...reach(address), multipleStatements: true });
  const name = `\`${databaseName(address).replaceAll('`', '')}\``;
  try {
    await connection.query(`CREATE DATABASE IF NOT EXISTS ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
    await connection.query(`USE ${name}`);
    await connection.query(
      'CREATE TABLE IF NOT EXISTS migrations (name VARCHAR(200) PRIMARY KEY, ran_at TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP)',
    );
    const umzug = new Umzug({
      migrations: {
        glob: ['*.sql', { cwd: join(import.meta.dirname, 'migrations') }],
        resolve: ({ name, path }) => ({
          name,
          up: async () => void (await connection.query(readFileSync(path!, 'utf8'))),
        }),
      },
      storage: {
        logMigration: async ({ name }) =>
          void (await connection.execute('INSERT INTO migrations (name) VALUES (?)', [name])),
        unlogMigration: async ({ name }) =>
          void (await connection.execute('DELETE FROM migrations WHERE name = ?', [name])),
        executed: async () => {
          const [rows] = await connection.query<mysql.RowDataPacket[]>('SELECT name FROM migrations ORDER BY name');
          return rows.map((row) => row.name as string);
        },
      },
      logger: undefined,
    });
    return (await umzug.up()).map((migration) => migration.name);
  } finally {
    await connection.end();
  }
}
