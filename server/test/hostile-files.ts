import { zipSync } from 'fflate';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ffmpeg, numberedPictures } from './media-files.ts';
import { clipPath } from './folders.ts';
import { cut, flipped, pngOf, tiffOf, withoutTimeScale, endlessHeader } from './broken-files.ts';

/** A file that is damaged or means harm, and how it must be met. */
export interface HostileFile {
  name: string;
  bytes: Uint8Array;
  /** 'either': what is left of it may still be a picture. */
  ends: 'ready' | 'failed' | 'either';
  words?: RegExp;
}

/** Some four dozen files that people bring by mistake or by malice. `listener` is an address where nothing may ever arrive. */
export async function hostileFiles(folder: string, listener: string): Promise<HostileFile[]> {
  mkdirSync(folder, { recursive: true });
  const at = (name: string) => join(folder, name);
  const made = async (name: string, ...args: string[]) => {
    await ffmpeg(...args, at(name));
    return new Uint8Array(readFileSync(at(name)));
  };
  const source = ['-f', 'lavfi', '-i', 'testsrc2=s=96x64:r=25:d=0.8', '-pix_fmt', 'yuv420p'];
  const mp4 = await made('good.mp4', ...source, '-c:v', 'libx264');
  const fast = await made('fast.mp4', ...source, '-c:v', 'libx264', '-movflags', '+faststart');
  const mkv = await made('good.mkv', ...source, '-c:v', 'ffv1');
  const webm = await made('good.webm', ...source, '-c:v', 'libvpx-vp9');
  const mxf = await made('good.mxf', ...source, '-c:v', 'mpeg2video');
  const png = await made('good.png', ...source, '-frames:v', '1');
  const jpeg = await made('good.jpg', ...source, '-frames:v', '1');
  const tiff = await made('good.tif', ...source, '-frames:v', '1');
  const exr = await made(
    'good.exr',
    '-f',
    'lavfi',
    '-i',
    'testsrc2=s=96x64:r=25:d=0.1',
    '-frames:v',
    '1',
    '-pix_fmt',
    'gbrpf32le',
  );
  await numberedPictures(at('run'), [1001, 1002, 1005, 1006]);
  await numberedPictures(at('big'), [1003], 'shot.', { width: 64, height: 32 });
  const picture = (path: string) => new Uint8Array(readFileSync(at(path)));
  const text = (words: string) => new TextEncoder().encode(words);
  const truncated = [0.05, 0.3, 0.6, 0.9, 0.99].map((share, i): HostileFile => ({
    name: `cut-${i}.mp4`,
    bytes: cut(i % 2 === 0 ? mp4 : fast, share),
    ends: 'either',
  }));
  const flips = (
    [
      ['mp4', mp4],
      ['mkv', mkv],
      ['webm', webm],
      ['mxf', mxf],
      ['png', png],
      ['jpg', jpeg],
      ['tif', tiff],
      ['exr', exr],
    ] as const
  ).flatMap(([ending, bytes], i) =>
    [1 + (i % 2)].map((n): HostileFile => ({
      name: `flipped-${n}.${ending}`,
      bytes: flipped(bytes, i * 10 + n),
      ends: 'either',
    })),
  );
  return [
    ...truncated,
    ...flips,
    { name: 'cut.mkv', bytes: cut(mkv, 0.4), ends: 'either' },
    { name: 'cut.webm', bytes: cut(webm, 0.1), ends: 'either' },
    { name: 'cut.png', bytes: cut(png, 0.5), ends: 'either' },
    { name: 'cut.exr', bytes: cut(exr, 0.5), ends: 'either' },
    { name: 'picture-called.mp4', bytes: png, ends: 'ready' },
    { name: 'film-called.png', bytes: mp4, ends: 'ready' },
    {
      name: 'no-frames.mp4',
      bytes: await made('none.mp4', ...source, '-c:v', 'libx264', '-frames:v', '0', '-movflags', '+empty_moov'),
      ends: 'failed',
    },
    { name: 'endless.mp4', bytes: endlessHeader(), ends: 'failed' },
    { name: 'zeros.mov', bytes: new Uint8Array(300_000), ends: 'failed' },
    {
      name: 'noise.mkv',
      bytes: Uint8Array.from({ length: 200_000 }, (_, i) => (Math.imul(i, 2654435761) >>> 13) & 255),
      ends: 'failed',
    },
    {
      name: 'list.m3u8',
      bytes: text(`#EXTM3U\n#EXT-X-TARGETDURATION:10\n#EXTINF:10,\nfile:///etc/passwd\n`),
      ends: 'failed',
      words: /playlist that points at other files/,
    },
    {
      name: 'list-net.mp4',
      bytes: text(`#EXTM3U\n#EXTINF:10,\n${listener}/clip.ts\n`),
      ends: 'failed',
      words: /playlist/,
    },
    {
      name: 'joined.mp4',
      bytes: text(`ffconcat version 1.0\nfile '${clipPath('bench-tablet.mp4')}'\n`),
      ends: 'failed',
      words: /playlist/,
    },
    {
      name: 'dash.mp4',
      bytes: text(`<?xml version="1.0"?><MPD><BaseURL>${listener}/</BaseURL></MPD>`),
      ends: 'failed',
      words: /may hold script/,
    },
    {
      name: 'drawing.svg',
      bytes: text(
        `<svg xmlns="http://www.w3.org/2000/svg" width="90" height="90"><image href="${listener}/x.png"/><script>1</script></svg>`,
      ),
      ends: 'failed',
      words: /drawing or page that may hold script/,
    },
    {
      name: 'drawing.png',
      bytes: text('  <svg xmlns="http://www.w3.org/2000/svg"/>'),
      ends: 'failed',
      words: /drawing/,
    },
    {
      name: 'session.sdp',
      bytes: text('v=0\r\no=- 0 0 IN IP4 127.0.0.1\r\nm=video 5004 RTP/AVP 96\r\n'),
      ends: 'failed',
    },
    {
      name: 'up.zip',
      bytes: zipSync({
        '../../../etc/shot.0001.png': picture('run/shot.1001.png'),
        '/abs/shot.0002.png': picture('run/shot.1002.png'),
      }),
      ends: 'ready',
    },
    {
      name: 'bomb.zip',
      bytes: zipSync({ 'shot.0001.png': new Uint8Array(90_000_000) }, { level: 9 }),
      ends: 'failed',
      words: /unpacks to far more than it holds/,
    },
    {
      name: 'twice.zip',
      bytes: zipSync({
        'a/shot.0001.png': picture('run/shot.1001.png'),
        'b/shot.0001.png': picture('run/shot.1002.png'),
      }),
      ends: 'failed',
      words: /two files named shot\.0001\.png/,
    },
    {
      name: 'no-pictures.zip',
      bytes: zipSync({ 'readme.txt': text('beds'), 'inner.zip': zipSync({ 'a.txt': text('x') }) }),
      ends: 'failed',
      words: /no numbered pictures/,
    },
    {
      name: 'cut.zip',
      bytes: cut(zipSync({ 'shot.0001.png': png, 'shot.0002.png': png }, { level: 0 }), 0.7),
      ends: 'failed',
    },
    {
      name: 'gap.zip',
      bytes: zipSync(
        Object.fromEntries([1001, 1002, 1005, 1006].map((n) => [`shot.${n}.png`, picture(`run/shot.${n}.png`)])),
      ),
      ends: 'failed',
      words: /missing 1003–1004/,
    },
    {
      name: 'sizes.zip',
      bytes: zipSync({ 'shot.1002.png': picture('run/shot.1002.png'), 'shot.1003.png': picture('big/shot.1003.png') }),
      ends: 'failed',
      words: /mixes sizes: shot\.1002\.png is 48×32, shot\.1003\.png is 64×32/,
    },
    {
      name: 'huge.png',
      bytes: pngOf(60_000, 60_000),
      ends: 'failed',
      words: /60000×60000; the limit is 16384 pixels a side/,
    },
    { name: 'huge.tif', bytes: tiffOf(500_000, 500_000), ends: 'failed', words: /500000×500000/ },
    { name: 'huge.y4m', bytes: text('YUV4MPEG2 W99999 H99999 F25:1\nFRAME\n'), ends: 'failed' },
    { name: 'rate-zero.mp4', bytes: withoutTimeScale(mp4), ends: 'either' },
    {
      name: 'before-zero.mkv',
      bytes: await made(
        'negative.mkv',
        ...source,
        '-c:v',
        'ffv1',
        '-output_ts_offset',
        '-3',
        '-avoid_negative_ts',
        'disabled',
      ),
      ends: 'either',
    },
    {
      name: 'sound.mp4',
      bytes: await made('sound.mp4', '-f', 'lavfi', '-i', 'sine=d=0.5', '-c:a', 'aac'),
      ends: 'failed',
      words: /has sound but no picture/,
    },
    {
      name: 'turned.mp4',
      bytes: await made('turned.mp4', '-i', at('good.mp4'), '-c', 'copy', '-metadata:s:v:0', 'rotate=90'),
      ends: 'ready',
    },
    {
      name: 'odd.mkv',
      bytes: await made(
        'odd.mkv',
        '-f',
        'lavfi',
        '-i',
        'testsrc2=s=97x63:r=25:d=0.2',
        '-pix_fmt',
        'yuv420p',
        '-c:v',
        'ffv1',
      ),
      ends: 'ready',
    },
    { name: 'speck.png', bytes: pngOf(1, 1), ends: 'failed', words: /1×1; a plate needs at least 16×16/ },
  ];
}
