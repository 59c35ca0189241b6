import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { PRIMARIES_NAMES, type PrimariesName } from '../core/base/image/primaries.ts';
import { TRANSFER_NAMES, type TransferName } from '../core/base/image/transfer-curves.ts';
import { Problem } from '../core/base/problem/problem.ts';
import type { Corrections, MediaFacts } from '../server/media/facts.ts';
import { probe, refuseGaps } from '../server/media/probe.ts';
import { sniff } from '../server/media/sniff.ts';
import { resolveSource, type MediaSource } from '../server/media/source.ts';
import { unzipPictures } from '../server/media/unzip.ts';
import { readRate } from './options.ts';

/** Options of every command that reads a plate. */
export const PLATE_OPTIONS = ['rate', 'gaps', 'transfer', 'primaries', 'range', 'matrix', 'deinterlace'] as const;
type PlateOptions = Partial<Record<(typeof PLATE_OPTIONS)[number], string>>;

export interface Plate {
  source: MediaSource;
  facts: MediaFacts;
  /** Removes what was unpacked. */
  close(): void;
}

/** Opens a clip, a still, a folder, a pattern or a zip of pictures; `allowGaps` leaves the decision about gaps open. */
export async function openPlate(
  path: string,
  options: PlateOptions = {},
  { allowGaps = false, content = false } = {},
): Promise<Plate> {
  const corrections = correctionsFrom(options);
  let unpacked: string | null = null;
  const close = () => {
    if (unpacked) rmSync(unpacked, { recursive: true, force: true });
    unpacked = null;
  };
  try {
    if (
      statSync(path, { throwIfNoEntry: false })?.isFile() &&
      statSync(path).size > 0 &&
      sniff(path, basename(path)).kind === 'zip'
    ) {
      unpacked = mkdtempSync(join(tmpdir(), 'yarlop-'));
      const pictures = join(unpacked, basename(path).replace(/\.zip$/i, '') || 'pictures');
      await unzipPictures(path, pictures, basename(path));
      path = pictures;
    }
    const source = resolveSource(path);
    const facts = await probe(source, { corrections, ...(content ? { keepAlpha: true, smallestSide: 1 } : {}) });
    if (!allowGaps) refuseGaps(source, facts);
    return { source, facts, close };
  } catch (error) {
    close();
    throw error;
  }
}

function correctionsFrom(options: PlateOptions): Corrections {
  return {
    rate: readRate(options.rate),
    gaps: oneOf('gaps', options.gaps, ['hold', 'stop'] as const),
    transfer: oneOf<TransferName>('transfer', options.transfer, TRANSFER_NAMES),
    primaries: oneOf<PrimariesName>('primaries', options.primaries, PRIMARIES_NAMES),
    range: oneOf('range', options.range, ['limited', 'full'] as const),
    matrix: oneOf('matrix', options.matrix, ['bt709', 'bt601', 'bt2020'] as const),
    deinterlace: oneOf('deinterlace', options.deinterlace, ['yes', 'no'] as const) === 'yes',
  };
}

function oneOf<T extends string>(name: string, value: string | undefined, allowed: readonly T[]): T | undefined {
  if (value === undefined) return undefined;
  const found = allowed.find((a) => a === value);
  if (found === undefined)
    throw new Problem('bad-field', {
      where: 'the command',
      field: `--${name}`,
      why: `is "${value}", not one of ${allowed.join(', ')}`,
    });
  return found;
}
