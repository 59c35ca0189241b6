import mysql from 'mysql2/promise';
import type { Pool, PoolConnection, ResultSetHeader, RowDataPacket } from 'mysql2/promise';

export type Database = Pool;
/** A pool or one connection of it inside a transaction. */
export type Queryable = Pool | PoolConnection;

export const DATABASE_NAME = 'yarlop';

export function openPool(socketPath: string, connections: number): Database {
  return mysql.createPool({
    socketPath, user: 'root', database: DATABASE_NAME, connectionLimit: connections, supportBigNumbers: true, timezone: 'Z', charset: 'utf8mb4_unicode_ci',
  });
}

/** Rows of a parameterised query. */
export async function select<Row>(db: Queryable, sql: string, values: readonly SqlValue[] = []): Promise<Row[]> {
  const [rows] = await db.execute<RowDataPacket[]>(sql, [...values]);
  return rows as Row[];
}

/** Runs a parameterised statement; returns how many rows it touched and the new id, if any. */
export async function run(db: Queryable, sql: string, values: readonly SqlValue[] = []): Promise<{ affected: number; id: number }> {
  const [result] = await db.execute<ResultSetHeader>(sql, [...values]);
  return { affected: result.affectedRows, id: result.insertId };
}

export type SqlValue = string | number | null | Date;

/** Runs `work` in a transaction; rolled back when it throws. */
export async function transaction<T>(db: Database, work: (connection: PoolConnection) => Promise<T>): Promise<T> {
  const connection = await db.getConnection();
  try {
    await connection.beginTransaction();
    const result = await work(connection);
    await connection.commit();
    return result;
  } catch (error) {
    await connection.rollback();
    throw error;
  } finally {
    connection.release();
  }
}
