import type { CardName } from '../../../core/composite/test-card.ts';
import type { ResolvedLook } from '../../../core/composite/look.ts';
import type { PictureSource } from '../api/urls.ts';
import type { QuadMotion } from '../../../core/composite/shutter-path.ts';
import type { Quality } from '../../../core/composite/compose-frame.ts';

/** What the preview worker needs to know for one finished frame. */
export interface ComposeRequest {
  plate: PictureSource;
  /** Of the plate itself; its light pictures may be smaller. */
  plateWidth: number;
  frame: number;
  /** Exact plate pixels, or the light proxy while playing. */
  plateKind: 'jpg' | 'png';
  content: { kind: 'medium'; source: PictureSource; frame: number; picture: 'jpg' | 'png' } | { kind: 'test-card'; ratio: number; card: CardName };
  motion: QuadMotion;
  surfaceRatio: number;
  look: ResolvedLook;
  quality: Quality;
}
