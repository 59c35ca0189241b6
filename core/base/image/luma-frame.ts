/** Luma codes of one frame, full range. */
export interface LumaFrame {
  readonly width: number;
  readonly height: number;
  readonly codes: Uint8Array | Uint16Array;
  readonly peak: 255 | 65535;
  /** Light of every code, where the codes are still as the file has them; those of full range unless given. */
  readonly light?: Float32Array | undefined;
}
