import { bt709FromLight, bt709ToLight, linearToSrgb, srgbToLinear } from './transfer.ts';

/**
 * Transfer curves by name: code 0…1 to light and back. Light 1 is the white of an ordinary display
 * (reference white), so that content of the one kind sits right in a plate of the other. All curves go on
 * below 0 and above 1 where their definition allows it, so that nothing is clipped on the way through.
 */
export interface TransferCurve {
  /** What the interface calls it. */
  readonly label: string;
  toLight(code: number): number;
  toCode(light: number): number;
}

const oddPower = (value: number, exponent: number): number => (value < 0 ? -((-value) ** exponent) : value ** exponent);
const gamma = (exponent: number, label: string): TransferCurve => ({
  label,
  toLight: (code) => oddPower(code, exponent),
  toCode: (light) => oddPower(light, 1 / exponent),
});

/** Rec. ITU-R BT.2408-7 §2.1: diffuse white of graphics in HDR, cd/m². It lies at 58 % of PQ and 75 % of HLG. */
export const REFERENCE_WHITE = 203;

// Rec. ITU-R BT.2100-2 table 4 (SMPTE ST 2084): constants of the perceptual quantiser.
const PQ = {
  m1: 2610 / 16384,
  m2: (2523 / 4096) * 128,
  c1: 3424 / 4096,
  c2: (2413 / 4096) * 32,
  c3: (2392 / 4096) * 32,
} as const;

/** Rec. ITU-R BT.2100-2 table 4, EOTF: PQ code 0…1 to cd/m². */
export function pqToNits(code: number): number {
  const e = Math.max(0, code) ** (1 / PQ.m2);
  return 10000 * (Math.max(0, e - PQ.c1) / (PQ.c2 - PQ.c3 * e)) ** (1 / PQ.m1);
}

/** Rec. ITU-R BT.2100-2 table 4, inverse EOTF: cd/m² to PQ code. */
export function pqFromNits(nits: number): number {
  const y = (Math.max(0, nits) / 10000) ** PQ.m1;
  return ((PQ.c1 + PQ.c2 * y) / (1 + PQ.c3 * y)) ** PQ.m2;
}

// Rec. ITU-R BT.2100-2 table 5: constants of hybrid log-gamma.
const HLG = { a: 0.17883277, b: 1 - 4 * 0.17883277, c: 0.5 - 0.17883277 * Math.log(4 * 0.17883277) } as const;

/** Rec. ITU-R BT.2100-2 table 5, inverse OETF: HLG code to scene light, 1 at the peak. */
export function hlgToScene(code: number): number {
  if (code < 0) return -hlgToScene(-code);
  return code <= 0.5 ? (code * code) / 3 : (Math.exp((code - HLG.c) / HLG.a) + HLG.b) / 12;
}

/** Rec. ITU-R BT.2100-2 table 5, OETF: scene light to HLG code. */
export function hlgFromScene(light: number): number {
  if (light < 0) return -hlgFromScene(-light);
  return light <= 1 / 12 ? Math.sqrt(3 * light) : HLG.a * Math.log(12 * light - HLG.b) + HLG.c;
}

/** The system gamma of a 1000 cd/m² display (BT.2100-2 table 5), laid on each component: exact for neutral colours. */
const HLG_SYSTEM_GAMMA = 1.2;
const HLG_WHITE = hlgToScene(0.75);

/** AMPAS S-2014-003 (ACEScc) §4.4: linear AP1 to code. */
function acesccFromLight(light: number): number {
  if (light <= 0) return (-16 + 9.72) / 17.52;
  return ((light < 2 ** -15 ? Math.log2(2 ** -16 + light * 0.5) : Math.log2(light)) + 9.72) / 17.52;
}
function acesccToLight(code: number): number {
  return code < (9.72 - 15) / 17.52 ? (2 ** (code * 17.52 - 9.72) - 2 ** -16) * 2 : 2 ** (code * 17.52 - 9.72);
}

// AMPAS S-2016-001 (ACEScct) §4.4.
const CCT = {
  slope: 10.5402377416545,
  offset: 0.0729055341958355,
  lightBreak: 0.0078125,
  codeBreak: 0.155251141552511,
} as const;
function acescctFromLight(light: number): number {
  return light <= CCT.lightBreak ? CCT.slope * light + CCT.offset : (Math.log2(light) + 9.72) / 17.52;
}
function acescctToLight(code: number): number {
  return code <= CCT.codeBreak ? (code - CCT.offset) / CCT.slope : 2 ** (code * 17.52 - 9.72);
}

/** Rec. ITU-T H.273 table 3, values 9 and 10: logarithmic over 100:1 and over 100·√10:1. */
const logarithmic = (decades: number, label: string): TransferCurve => ({
  label,
  toLight: (code) => (code <= 0 ? 0 : 10 ** (decades * (code - 1))),
  toCode: (light) => (light < 10 ** -decades ? 0 : 1 + Math.log10(light) / decades),
});

export const TRANSFERS = {
  srgb: { label: 'sRGB, as a display shows it', toLight: srgbToLinear, toCode: linearToSrgb },
  bt1886: gamma(2.4, 'BT.1886 display (2.4)'),
  gamma22: gamma(2.2, 'gamma 2.2'),
  gamma26: gamma(2.6, 'gamma 2.6'),
  gamma28: gamma(2.8, 'gamma 2.8'),
  bt709: { label: 'BT.709 camera', toLight: bt709ToLight, toCode: bt709FromLight },
  linear: { label: 'linear light', toLight: (code: number) => code, toCode: (light: number) => light },
  pq: {
    label: 'PQ (BT.2100)',
    toLight: (code: number) => pqToNits(code) / REFERENCE_WHITE,
    toCode: (light: number) => pqFromNits(light * REFERENCE_WHITE),
  },
  hlg: {
    label: 'HLG (BT.2100)',
    toLight: (code: number) => oddPower(hlgToScene(code) / HLG_WHITE, HLG_SYSTEM_GAMMA),
    toCode: (light: number) => hlgFromScene(oddPower(light, 1 / HLG_SYSTEM_GAMMA) * HLG_WHITE),
  },
  acescc: { label: 'ACEScc', toLight: acesccToLight, toCode: acesccFromLight },
  acescct: { label: 'ACEScct', toLight: acescctToLight, toCode: acescctFromLight },
  log100: logarithmic(2, 'logarithmic 100:1 (H.273)'),
  log316: logarithmic(2.5, 'logarithmic 316:1 (H.273)'),
} as const satisfies Record<string, TransferCurve>;

export type TransferName = keyof typeof TRANSFERS;
export const TRANSFER_NAMES = Object.keys(TRANSFERS) as TransferName[];
