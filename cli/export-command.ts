import { EXPORT_FORMATS, exportTrack, type ExportFormat } from '../core/exchange/corner-data.ts';
import { Problem } from '../core/problem/problem.ts';
import { checkWritable, readJson, readOptions, writeWhole } from './options.ts';

/** `yarlop export`: writes a track in one of the open formats. */
export async function exportCommand(args: string[]): Promise<void> {
  const options = readOptions(args, ['track', 'format', 'out']);
  const format = options.format as ExportFormat;
  if (!EXPORT_FORMATS.includes(format)) {
    throw new Problem('bad-field', { where: 'the command', field: '--format', why: `is "${options.format}"; it must be one of ${EXPORT_FORMATS.join(', ')}` });
  }
  const track = readJson('track', options.track);
  checkWritable(options.out);
  writeWhole(options.out, exportTrack(track, format));
}
