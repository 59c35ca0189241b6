import { kelvinOf } from '../../../../core/picture/blend/white-point.ts';
import type { Look, LookReason } from '../../../../core/base/schemas/types.ts';
import { keysOf, type KeyedNumber } from './keyed-edits.ts';

/** A value of a proposed look that is taken or left by itself. */
export interface ProposalPart {
  /** Its place in the look, as in `why`. */
  readonly name: string;
  readonly title: string;
  /** The number with its unit, or what it is in words. */
  readonly value: string;
  readonly why: LookReason;
  /** Whether there is anything to take: some measurements only say that there is nothing. */
  readonly takes: boolean;
  /** Taken only when it is asked for by itself. */
  readonly aside: boolean;
}

const number = (value: KeyedNumber | undefined, unit: string, digits = 2): string => {
  const keys = keysOf(value);
  if (keys.length === 0) return `${Number((value as number).toFixed(digits))}${unit}`;
  const values = keys.map((key) => key.value);
  return `${Number(Math.min(...values).toFixed(digits))} to ${Number(Math.max(...values).toFixed(digits))}${unit}, ${keys.length} keys`;
};

interface Kind {
  readonly aside?: boolean;
  readonly title: string;
  readonly told: (look: Look) => string | null;
  readonly take: (draft: Look, look: Look) => void;
}

/** How each part is named and taken. */
const KINDS: Readonly<Record<string, Kind>> = {
  'levels/black': {
    title: 'Black',
    told: (l) => (l.levels?.black === undefined ? null : number(l.levels.black, '', 3)),
    take: (d, l) => (d.levels = { ...d.levels, black: l.levels!.black! }),
  },
  'levels/white': {
    title: 'White',
    told: (l) => (l.levels?.white === undefined ? null : number(l.levels.white, '', 3)),
    take: (d, l) => (d.levels = { ...d.levels, white: l.levels!.white! }),
  },
  'levels/tint': {
    title: 'White of the room',
    aside: true,
    told: (l) => (l.why?.['levels/tint']?.tint ? `${kelvinOf(l.why['levels/tint'].tint)} K` : null),
    take: (d, l) => (d.levels = { ...d.levels, tint: l.why!['levels/tint']!.tint! }),
  },
  exposure: {
    title: 'Exposure',
    told: (l) => (l.exposure === undefined ? null : number(l.exposure, ' stops')),
    take: (d, l) => (d.exposure = l.exposure!),
  },
  soften: {
    title: 'Softness',
    told: (l) => (l.soften === undefined ? null : number(l.soften, ' px')),
    take: (d, l) => {
      d.soften = l.soften!;
      if (l.disc === undefined) delete d.disc;
      else d.disc = l.disc;
    },
  },
  'motionBlur/shutter': {
    title: 'Shutter',
    told: (l) => (l.motionBlur?.shutter === undefined ? null : number(l.motionBlur.shutter, '°', 0)),
    take: (d, l) => (d.motionBlur = { ...d.motionBlur, ...l.motionBlur }),
  },
  grain: {
    title: 'Grain',
    told: (l) =>
      l.grain
        ? `σ ${l.grain.levels[Math.floor(l.grain.levels.length / 2)]!.sigma.map((s) => (255 * s).toFixed(1)).join(' / ')} codes`
        : null,
    take: (d, l) => (d.grain = l.grain!),
  },
  oldScreen: {
    title: 'Old screen',
    told: (l) => (l.oldScreen === 'edges' ? 'off the edges' : null),
    take: (d, l) => (d.oldScreen = l.oldScreen!),
  },
  reflections: {
    title: 'Reflections',
    told: (l) =>
      l.reflections ? (l.reflections.from === 'dark' ? 'of the dark screen' : 'of the keyed screen') : null,
    take: (d, l) => (d.reflections = l.reflections!),
  },
  keys: {
    title: 'Key',
    told: (l) => (Array.isArray(l.keys) && l.keys.length > 0 ? "of the screen's colour" : null),
    take: (d, l) => {
      d.keys = l.keys!;
      if (l.markers) d.markers = l.markers;
    },
  },
  spill: {
    title: 'Spill',
    told: (l) => (l.spill ? "becomes the content's" : null),
    take: (d, l) => (d.spill = l.spill!),
  },
  difference: {
    title: 'In front',
    told: (l) => (l.difference ? 'what differs' : null),
    take: (d, l) => (d.difference = l.difference!),
  },
};

/** The parts of a proposed look, in the order of the work. */
export function partsOf(look: Look): ProposalPart[] {
  return Object.entries(KINDS).flatMap(([name, { title, told, aside = false }]) => {
    const why = look.why?.[name];
    const value = told(look);
    return why ? [{ name, title, value: value ?? 'nothing', why, takes: value !== null, aside }] : [];
  });
}

/** Takes a part into a look, with its reason. */
export function takePart(draft: Look, proposed: Look, name: string): void {
  KINDS[name]!.take(draft, proposed);
  draft.why = { ...draft.why, [name]: proposed.why![name]! };
}
