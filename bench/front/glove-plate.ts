import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { pictureFromRaw } from '../../core/base/image/raw-frame.ts';
import { conditionGoal, conditionPlate } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { decodeFrames } from '../../server/media/decode.ts';
import { probe } from '../../server/media/probe.ts';
import { resolveSource } from '../../server/media/source.ts';
import type { GlovePlate } from './glove-figures.ts';

export async function picturesOf(file: string): Promise<CodedPicture[]> {
  const source = resolveSource(file);
  const facts = await probe(source);
  const out: CodedPicture[] = [];
  for await (const bytes of decodeFrames(source, facts)) out.push(pictureFromRaw(Uint8Array.from(bytes), facts.layout));
  return out;
}

/** The plate of a seed with what it should end as; made where it is not there. */
export async function glovePlate(seed: number): Promise<GlovePlate> {
  const name = `glove@${seed}`;
  const { plate, truth } = await conditionPlate(name);
  const { composite, matte } = await conditionGoal(name);
  const told = JSON.parse(readFileSync(truth, 'utf8')) as Truth;
  return {
    truth: told,
    plates: await picturesOf(plate),
    composites: await picturesOf(composite),
    mattes: await picturesOf(matte),
    contentFile: join(import.meta.dirname, '../../demo/content', told.content),
  };
}
