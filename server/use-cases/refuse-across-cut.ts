import { Problem } from '../../core/base/problem/problem.ts';
import { type Database } from '../database/connection.ts';
import { firstCut } from '../database/checks.ts';

/** What lies beyond a cut is another picture. */
export async function refuseAcrossCut(db: Database, plateId: number, span: readonly [number, number]): Promise<void> {
  const frame = await firstCut(db, plateId, span);
  if (frame !== null) throw new Problem('crosses-cut', { where: 'the span', frame });
}
