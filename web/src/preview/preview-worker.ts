import { LRUCache } from 'lru-cache';
import type { CleanSurface } from '../../../core/picture/pin/clean-surface.ts';
import { cleanSurface, type CleanKind } from '../../../core/picture/measure/clean-needs.ts';
import { usualSurface } from '../../../core/picture/clean/usual-surface.ts';
import type { UsualSurface } from '../../../core/picture/pin/surface-frames.ts';
import * as Comlink from 'comlink';
import { plainContent, unfilledOf, viewOf } from './front-views.ts';
import { boardScale, FINE, QUICK } from '../../../core/picture/board/board-scale.ts';
import { DrawnBoards } from '../../../core/picture/board/drawn-boards.ts';
import { flatBoard } from '../../../core/picture/board/flat-board.ts';
import { layerSize, renderBoard, type BoardSources } from '../../../core/picture/board/render-board.ts';
import type { StackedSurface } from '../../../core/picture/composite/compose-surfaces.ts';
import { NEUTRAL_LOOK, type ResolvedLook } from '../../../core/picture/look/look.ts';
import type { PinnedContent } from '../../../core/picture/pin/pinned-surface.ts';
import { scaledLook } from '../../../core/picture/composite/scaled-look.ts';
import { ShownContent, type ContentSource } from '../../../core/picture/pin/shown-content.ts';
import { testCard } from '../../../core/picture/composite/test-card.ts';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import type { CodedPicture } from '../../../core/base/image/picture.ts';
import { DISPLAY_COLOUR } from '../../../core/base/image/plate-colour.ts';
import { numberAt } from '../../../core/base/time/keyframes.ts';
import { differenceOf, type Difference } from '../../../core/picture/matte/difference-matte.ts';
import { scopesOf, type Scopes } from '../../../core/picture/measure/scopes.ts';
import { frameUrl } from '../api/urls.ts';
import type {
  BoardRequest,
  Composed,
  ComposeRequest,
  ShownMedium,
  ShownRequest,
  SurfaceRequest,
} from './compose-request.ts';
import { loadComposite } from './load-composite.ts';
import { PicturesAtHand } from './pictures-at-hand.ts';
import { quickContent, quickWidth } from './quick-size.ts';
import { shippedFont } from './shipped-fonts.ts';
import { scaledLens, scaledQuad, scaledMotion } from './scaled-surface.ts';
import { fetchCodes, cleanPictures } from './fetch-pictures.ts';

/** Composes frames for the viewer with the same code as the final render (core/picture/composite). */
class PreviewWorker {
  private readonly plates = new LRUCache<string, CodedPicture>({ max: 12 });
  private readonly drawn = new DrawnBoards(3);
  private readonly differences = new LRUCache<string, Promise<Difference>>({ max: 2 });
  private readonly usuals = new LRUCache<string, Promise<UsualSurface | null>>({ max: 2 });
  private readonly cleans = new LRUCache<string, Promise<CleanSurface | null>>({ max: 2 });
  private readonly pictures = new PicturesAtHand(128 << 20);
  private readonly shownContents = new LRUCache<string, ShownContent>({ max: 16 });

  private readonly ready = loadComposite();

  async compose(request: ComposeRequest): Promise<Composed> {
    const { plate, finished, stack } = await this.finish(request);
    const rgba = new Uint8ClampedArray(finished.width * finished.height * 4);
    for (let i = 0, at = 0; at < rgba.length; i += 3, at += 4) {
      rgba[at] = finished.data[i]!;
      rgba[at + 1] = finished.data[i + 1]!;
      rgba[at + 2] = finished.data[i + 2]!;
      rgba[at + 3] = 255;
    }
    const bitmap = await createImageBitmap(new ImageData(rgba, finished.width, finished.height));
    return Comlink.transfer(
      { bitmap, unfilled: request.view === 'plate' ? [] : unfilledOf(plate, stack, request.quality) },
      [bitmap],
    );
  }

  /** What the first surface of a finished frame shows beside its plate; null where it is not seen. */
  async scopes(request: ComposeRequest): Promise<Scopes | null> {
    const {
      plate,
      finished,
      stack: [own],
    } = await this.finish(request);
    if (!own) return null;
    const {
      motion,
      ratio,
      look: { motionBlur, soften, disc },
    } = own.surface;
    const at = (value: typeof soften) => numberAt(value, request.frame);
    return scopesOf(
      plate,
      finished,
      motion,
      ratio,
      at(motionBlur.shutter) / 360,
      Math.hypot(at(soften), at(disc) / 2),
      DISPLAY_COLOUR,
    );
  }

  private async finish(
    request: ComposeRequest,
  ): Promise<{ plate: CodedPicture; finished: CodedPicture; stack: readonly StackedSurface[] }> {
    await this.ready;
    const plate = await this.plate(request);
    const scale = plate.width / request.plateWidth;
    const plain =
      request.view === 'checker' || request.view === 'black' || request.view === 'white'
        ? [{ pyramid: plainContent(request.view) }]
        : null;
    const stack: StackedSurface[] = [];
    for (const one of request.surfaces) {
      const look = scaledLook(one.look, scale);
      const motion = scaledMotion(one.motion, scale);
      const contents = await this.contents(request, one.content, look, motion.now);
      if (!contents) continue;
      const difference =
        !one.cleanKind && look.front.difference && one.clean.length > 0 ? await this.difference(request, one) : null;
      const clean = one.cleanKind ? await this.clean(request, one, one.cleanKind) : null;
      const usual = one.usual.length > 0 ? await this.usual(request, one) : null;
      stack.push({
        border: one.border * scale,
        surface: {
          contents: plain ?? contents,
          motion,
          ratio: one.surfaceRatio,
          look,
          frame: request.frame,
          reference: scaledQuad(one.reference, scale),
          referenceFrame: one.referenceFrame,
          focal: one.focal === undefined ? undefined : one.focal * scale,
          lens: scaledLens(one.lens, scale),
          perSecond: request.plateRate[0] / request.plateRate[1],
          usual: usual ?? undefined,
          clean: clean ?? undefined,
          differs: difference?.on(motion.now, look.front.difference!),
        },
      });
    }
    return { plate, finished: viewOf(request.view, plate, stack, request.quality), stack };
  }

  private async plate({ plate, frame, plateKind, quality, onScreen }: ComposeRequest): Promise<CodedPicture> {
    const url = frameUrl(plate, frame, plateKind);
    const widest = quality === 'quick' ? quickWidth(onScreen) : Infinity;
    const key = `${widest} ${url}`;
    let picture = this.plates.get(key);
    if (!picture) {
      picture = await fetchCodes(url, widest);
      this.plates.set(key, picture);
    }
    return picture;
  }

  /** The surface without anything in front, as the whole shot tells it; kept while its corners stay. */
  private difference(
    { plate, plateWidth }: ComposeRequest,
    { clean, surfaceRatio: ratio, lens }: SurfaceRequest,
  ): Promise<Difference> {
    const key = JSON.stringify([plate, clean, ratio, lens]);
    let made = this.differences.get(key);
    if (!made) {
      made = (async () => {
        return differenceOf(await cleanPictures(plate, plateWidth, clean, lens), ratio, DISPLAY_COLOUR);
      })();
      this.differences.set(key, made);
      made.catch(() => this.differences.delete(key));
    }
    return made;
  }

  /** The surface told clean, kept likewise. */
  private clean(
    { plate, plateWidth }: ComposeRequest,
    { clean, surfaceRatio: ratio, look, lens }: SurfaceRequest,
    kind: CleanKind,
  ): Promise<CleanSurface | null> {
    const key = JSON.stringify([plate, clean, ratio, kind, look.exposure, look.soften, look.disc, lens]);
    let made = this.cleans.get(key);
    if (!made) {
      made = cleanPictures(plate, plateWidth, clean, lens).then((frames) =>
        cleanSurface(kind, frames, look, ratio, DISPLAY_COLOUR),
      );
      this.cleans.set(key, made);
      made.catch(() => this.cleans.delete(key));
    }
    return made;
  }

  /** The surface as most frames show it, kept likewise. */
  private usual(
    { plate, plateWidth }: ComposeRequest,
    { usual, surfaceRatio: ratio, lens }: SurfaceRequest,
  ): Promise<UsualSurface | null> {
    const key = JSON.stringify([plate, usual, ratio, lens]);
    let made = this.usuals.get(key);
    if (!made) {
      made = cleanPictures(plate, plateWidth, usual, lens).then((frames) => usualSurface(frames, ratio));
      this.usuals.set(key, made);
      made.catch(() => this.usuals.delete(key));
    }
    return made;
  }

  private async contents(
    request: ComposeRequest,
    content: ShownRequest,
    look: ResolvedLook,
    quad: Quad,
  ): Promise<readonly PinnedContent[] | null> {
    const { frame, plateRate } = request;
    const quick = request.quality === 'quick';
    if (content.kind === 'board')
      return this.drawn.at(
        content.board,
        frame,
        this.boardSources(content.media, plateRate, look),
        look.levels,
        boardScale(content.board, quad, quick ? QUICK : FINE),
        JSON.stringify(content.media),
      );
    const widest =
      quick && content.kind === 'medium' ? quickContent(content.width, content.height, quad, look) : Infinity;
    const source: ContentSource =
      content.kind === 'medium'
        ? this.mediumSource(content, widest)
        : {
            frames: 1,
            rate: plateRate,
            picture: () =>
              Promise.resolve(testCard(1024, Math.max(16, Math.round(1024 / content.ratio)), content.card)),
          };
    const pyramid = await this.shown(JSON.stringify([content, plateRate, widest]), source, plateRate).at(frame, look);
    return pyramid && [{ pyramid }];
  }

  private boardSources(
    media: Readonly<Record<number, ShownMedium>>,
    plateRate: readonly [number, number],
    { levels }: Pick<ResolvedLook, 'levels'>,
  ): BoardSources {
    return {
      font: shippedFont,
      moves: ({ media: medium }) => typeof medium === 'number' && (media[medium]?.frames ?? 1) > 1,
      media: async (layer, at) => {
        const medium = typeof layer.media === 'number' ? media[layer.media] : undefined;
        return medium
          ? this.shown(`${layer.id} ${JSON.stringify(medium)}`, this.mediumSource(medium, Infinity), plateRate).at(at, {
              levels,
              place: {},
              time: layer.time ?? {},
            })
          : null;
      },
    };
  }

  /** A board by itself, all depths one over the other, and the size of each of its layers. */
  async board({
    board,
    media,
    plateRate,
    frame,
    scale,
  }: BoardRequest): Promise<{ bitmap: ImageBitmap; sizes: Record<string, { width: number; height: number }> }> {
    const sources = this.boardSources(media, plateRate, NEUTRAL_LOOK);
    const parts = await renderBoard(board, frame, sources, NEUTRAL_LOOK.levels, scale);
    const { width, height, rgba } = flatBoard(parts);
    const bitmap = await createImageBitmap(new ImageData(rgba, width, height));
    const sizes: Record<string, { width: number; height: number }> = {};
    for (const layer of board.layers) sizes[layer.id] = await layerSize(layer, sources, frame);
    return Comlink.transfer({ bitmap, sizes }, [bitmap]);
  }

  private mediumSource({ source, frames, rate, picture }: ShownMedium, widest: number): ContentSource {
    return { frames, rate, picture: (index) => this.pictures.get(frameUrl(source, index, picture), widest) };
  }

  private shown(key: string, source: ContentSource, plateRate: readonly [number, number]): ShownContent {
    let shown = this.shownContents.get(key);
    if (!shown) {
      shown = new ShownContent(source, plateRate, 3);
      this.shownContents.set(key, shown);
    }
    return shown;
  }
}

Comlink.expose(new PreviewWorker());
export type { PreviewWorker };
