import { existsSync } from 'node:fs';
import { changeLayer, flatLayer, flatSize, insertLayer } from '../../core/picture/composite/layer-pictures.ts';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import type { RenderLayer } from '../../core/base/schemas/types.ts';
import type { NamedFrame } from '../database/finished-frames.ts';
import type { LayerPicture } from '../media/layer-picture.ts';
import { writeFinished } from './finished-files.ts';
import { finishedFile } from './finished-paths.ts';
import { FrameKeys } from './frame-keys.ts';
import { writeLight } from './light-pictures.ts';
import type { PlanCompositor } from './plan-compositor.ts';

/** Makes frames of one plan, all the layers that are asked for, into the folder of finished frames. What is there already is left as it is. */
export class FrameMaker {
  private readonly keys: FrameKeys;

  constructor(
    private readonly compositor: PlanCompositor,
    private readonly layers: readonly RenderLayer[],
    private readonly renders: string,
  ) {
    this.keys = new FrameKeys(compositor.plan);
  }

  async make(frame: number): Promise<NamedFrame[]> {
    const named = this.layers.map((layer): NamedFrame => ({ layer, frame, ...this.keys.of(frame, layer) }));
    const missing = named.flatMap((one) => {
      const file = finishedFile(this.renders, one.key, one.layer, this.compositor.plan);
      return existsSync(file) ? [] : [{ layer: one.layer, file, key: one.key }];
    });
    if (missing.length === 0) return named;
    const plate = await this.compositor.plate(frame);
    const pictures = await this.compose(
      plate,
      frame,
      missing.map((one) => one.layer),
    );
    for (const { layer, file, key } of missing) {
      const picture = await this.layer(layer, frame, plate, pictures);
      // The light one first: where the finished one is, nothing is missing.
      if (layer === 'full' && picture.kind === 'codes')
        await writeLight(this.renders, key, picture.picture, this.compositor.plan.plate.facts.colour);
      await writeFinished(file, picture);
    }
    return named;
  }

  /** The finished picture with what it covers, where a layer is made from it. */
  private async compose(
    plate: CodedPicture,
    frame: number,
    layers: readonly RenderLayer[],
  ): Promise<{ picture: CodedPicture; matte: Float32Array | null } | null> {
    if (!layers.some((layer) => layer === 'full' || layer === 'insert' || layer === 'matte' || layer === 'difference'))
      return null;
    return this.compositor.compose(plate, frame, 'final', {
      matte: layers.includes('insert') || layers.includes('matte'),
    });
  }

  private async layer(
    layer: RenderLayer,
    frame: number,
    plate: CodedPicture,
    done: { picture: CodedPicture; matte: Float32Array | null } | null,
  ): Promise<LayerPicture> {
    const { compositor } = this;
    const { facts } = compositor.plan.plate;
    switch (layer) {
      case 'full':
        return { kind: 'codes', picture: done!.picture };
      case 'difference':
        return { kind: 'codes', picture: changeLayer(plate, done!.picture) };
      case 'insert':
        return { kind: 'light', picture: insertLayer(plate, done!.picture, done!.matte!, facts.colour) };
      case 'matte':
        return { kind: 'share', width: plate.width, height: plate.height, share: done!.matte! };
      case 'clean':
        return { kind: 'codes', picture: await compositor.cleaned(plate, frame) };
      case 'card':
        return { kind: 'codes', picture: (await compositor.compose(plate, frame, 'final', { card: true })).picture };
      case 'flat':
        return {
          kind: 'codes',
          picture: flatLayer(
            plate,
            compositor.cornersOn(frame),
            flatSize(compositor.plan.surfaces.find((surface) => surface.own)!.document.corners!),
            facts.colour,
            compositor.plan.surfaces.find((surface) => surface.own)!.document.lens,
          ),
        };
    }
  }
}
