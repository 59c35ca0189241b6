import { clamp } from './clamp.ts';
import { meshAt, type PatchMesh } from './patch-mesh.ts';

/** Cells of the grid that the inverse is kept on, for each patch, and its margin around the mesh in cells. */
const CELLS = 24;
const LEAST_CELLS = 96;
const MOST_CELLS = 240;
const MARGIN = 3;

/** What leads from the flat surface (u, v) to a bent one's own places: [s, t, ∂s/∂u, ∂s/∂v, ∂t/∂u, ∂t/∂v]; false where nothing of it is. */
export interface BentSurface {
  look(u: number, v: number, out: Float64Array): boolean;
}

/** The way back: from the flat surface to (s, t) of the bent one, kept on a fine grid and found again by Newton's steps. */
export class InverseMesh implements BentSurface {
  private readonly left: number;
  private readonly top: number;
  private readonly stepX: number;
  private readonly stepY: number;
  private readonly nx: number;
  private readonly ny: number;
  /** s, t and their slopes by u and v at the grid's points: six numbers each; NaN where nothing of the mesh is near. */
  private readonly grid: Float64Array;

  constructor(private readonly mesh: PatchMesh) {
    const xs = mesh.points.map((p) => p[0]);
    const ys = mesh.points.map((p) => p[1]);
    const reach = 0.06;
    const left = Math.min(...xs) - reach;
    const right = Math.max(...xs) + reach;
    const top = Math.min(...ys) - reach;
    const bottom = Math.max(...ys) + reach;
    this.nx = clamp(CELLS * mesh.columns, LEAST_CELLS, MOST_CELLS) + 2 * MARGIN;
    this.ny = clamp(CELLS * mesh.rows, LEAST_CELLS, MOST_CELLS) + 2 * MARGIN;
    this.stepX = (right - left) / (this.nx - 2 * MARGIN);
    this.stepY = (bottom - top) / (this.ny - 2 * MARGIN);
    this.left = left - MARGIN * this.stepX;
    this.top = top - MARGIN * this.stepY;
    this.grid = new Float64Array((this.nx + 1) * (this.ny + 1) * 6);
    this.fill();
  }

  private fill(): void {
    let s = 0.5;
    let t = 0.5;
    for (let row = 0; row <= this.ny; row++) {
      for (let i = 0; i <= this.nx; i++) {
        // To and fro, so that the last place found is next to the one sought.
        const col = row % 2 === 0 ? i : this.nx - i;
        const at = (row * (this.nx + 1) + col) * 6;
        const found =
          this.solve(this.left + col * this.stepX, this.top + row * this.stepY, s, t) ??
          this.solve(this.left + col * this.stepX, this.top + row * this.stepY, 0.5, 0.5);
        if (!found) {
          this.grid.fill(NaN, at, at + 6);
          continue;
        }
        [s, t] = [clamp(found[0], -0.1, 1.1), clamp(found[1], -0.1, 1.1)];
        this.grid.set(found, at);
      }
    }
  }

  /** Newton's steps from a guess; [s, t, ∂s/∂u, ∂s/∂v, ∂t/∂u, ∂t/∂v]. */
  private solve(u: number, v: number, s: number, t: number): [number, number, number, number, number, number] | null {
    for (let k = 0; k < 25; k++) {
      const [x, y, us, ut, vs, vt] = meshAt(this.mesh, s, t);
      const det = us * vt - ut * vs;
      if (Math.abs(det) < 1e-9) return null;
      const ds = (vt * (u - x) - ut * (v - y)) / det;
      const dt = (us * (v - y) - vs * (u - x)) / det;
      const length = Math.hypot(ds, dt);
      const step = length > 0.25 ? 0.25 / length : 1;
      s += ds * step;
      t += dt * step;
      if (!(Math.abs(s) < 3 && Math.abs(t) < 3)) return null;
      if (length < 1e-10) return [s, t, vt / det, -ut / det, -vs / det, us / det];
    }
    return null;
  }

  /** (s, t) at a place of the flat surface and the slopes, into `out` as `grid` keeps them: Hermite's cubics of the grid's values. False where nothing of the mesh is. */
  look(u: number, v: number, out: Float64Array): boolean {
    const x = (u - this.left) / this.stepX;
    const y = (v - this.top) / this.stepY;
    const col = Math.floor(x);
    const row = Math.floor(y);
    if (!(col >= 0 && row >= 0 && col < this.nx && row < this.ny)) return false;
    const fx = x - col;
    const fy = y - row;
    const a = (row * (this.nx + 1) + col) * 6;
    const b = a + 6;
    const c = a + (this.nx + 1) * 6;
    const d = c + 6;
    const { grid } = this;
    for (let k = 0; k < 2; k++) {
      // Along both rows by cubics with the kept slopes, between the rows likewise, the slopes down mixed linearly.
      const su = 2 + 2 * k;
      const sv = 3 + 2 * k;
      const upper = hermite(grid[a + k]!, grid[b + k]!, grid[a + su]! * this.stepX, grid[b + su]! * this.stepX, fx);
      const lower = hermite(grid[c + k]!, grid[d + k]!, grid[c + su]! * this.stepX, grid[d + su]! * this.stepX, fx);
      const slopeUpper = (grid[a + sv]! + (grid[b + sv]! - grid[a + sv]!) * fx) * this.stepY;
      const slopeLower = (grid[c + sv]! + (grid[d + sv]! - grid[c + sv]!) * fx) * this.stepY;
      out[k] = hermite(upper, lower, slopeUpper, slopeLower, fy);
      for (const m of [su, sv]) {
        const one = grid[a + m]! + (grid[b + m]! - grid[a + m]!) * fx;
        const other = grid[c + m]! + (grid[d + m]! - grid[c + m]!) * fx;
        out[m] = one + (other - one) * fy;
      }
    }
    return out[0]! === out[0]! && out[1]! === out[1]!;
  }
}

function hermite(p: number, q: number, dp: number, dq: number, t: number): number {
  const t2 = t * t;
  const t3 = t2 * t;
  return (2 * t3 - 3 * t2 + 1) * p + (t3 - 2 * t2 + t) * dp + (3 * t2 - 2 * t3) * q + (t3 - t2) * dq;
}
