import { Problem } from '../../base/problem/problem.ts';
import type { DeliveryFormat, RenderLayer } from '../../base/schemas/types.ts';

/** What stands in a pattern of file names. */
export interface FileWords {
  readonly project: string;
  readonly shot: string;
  readonly layer: RenderLayer;
  readonly version: number;
  /** Of a row of the table of contents. */
  readonly variant?: string | undefined;
}

export const USUAL_PATTERN = '{shot}-{layer}-v{version}';
export const USUAL_VARIANT_PATTERN = '{shot}-{variant}-{layer}-v{version}';

/** A name without what some file systems refuse: letters, figures, dots and hyphens; `shot` where nothing is left of it. */
export function fileNameOf(name: string): string {
  return (
    name
      .trim()
      .toLowerCase()
      .replace(/[^\p{L}\p{N}.]+/gu, '-')
      .replace(/^[-.]+|[-.]+$/g, '') || 'shot'
  );
}

/** The name that a pattern stands for, without an ending. @throws Problem bad-field for an unknown word in braces */
export function fillPattern(pattern: string, words: FileWords): string {
  const filled = pattern.replace(/\{(\w*)\}/g, (_, word: string) => {
    switch (word) {
      case 'project':
        return words.project;
      case 'shot':
        return words.shot;
      case 'layer':
        return words.layer;
      case 'version':
        return String(words.version).padStart(3, '0');
      case 'variant':
        return words.variant ?? 'own';
      default:
        throw new Problem('bad-field', {
          where: 'the settings',
          field: 'pattern',
          why: `has {${word}}; known are {project}, {shot}, {layer}, {version} and {variant}`,
        });
    }
  });
  return fileNameOf(filled);
}

/** A film's file ending. */
export const FILM_ENDINGS = {
  h264: '.mp4',
  hevc: '.mp4',
  vp9: '.webm',
  av1: '.mp4',
  ffv1: '.mkv',
} as const satisfies Partial<Record<DeliveryFormat, string>>;
export type FilmFormat = keyof typeof FILM_ENDINGS;

export function isFilm(format: DeliveryFormat): format is FilmFormat {
  return format in FILM_ENDINGS;
}

/** Endings of numbered pictures. */
export const PICTURE_ENDINGS: Partial<Record<DeliveryFormat, string>> = {
  png: '.png',
  png16: '.png',
  tiff: '.tif',
  exr: '.exr',
};

/** A numbered picture's name. */
export function numberedPicture(name: string, number: number, ending: string): string {
  return `${name}.${String(number).padStart(4, '0')}${ending}`;
}
