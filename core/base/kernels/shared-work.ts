/** Runs a kernel over a part of its work; `thread` says whose memory is written to. Returns what is to be added up. */
export type RunPart = (kernel: number, from: number, to: number, given: Float64Array, thread: 0 | 1) => number;

/** Places in the control block. */
const OPEN = 0;
const NEXT = 1;
const BUSY = 2;
const KERNEL = 3;
const SIZE = 4;
const PART = 5;
const TOTAL = 6;
const CONTROL_INTS = 8;
const MOST_GIVEN = 32;
/** How long a helper waits for work before it looks at its letters, ms. */
const PATIENCE = 100;
/** How often the other's last part is looked for before this thread sleeps. */
const SPINS = 2000;

/** Memory in which two threads agree on work. */
export interface WorkBlock {
  readonly control: Int32Array;
  readonly given: Float64Array;
}

export function workBlock(): WorkBlock {
  return {
    control: new Int32Array(new SharedArrayBuffer(4 * CONTROL_INTS)),
    given: new Float64Array(new SharedArrayBuffer(8 * MOST_GIVEN)),
  };
}

/**
 * Work in parts that two threads take in turn, whoever is free: a helper that is busy elsewhere costs nothing. Every part
 * writes places of its own, and what is added up is whole numbers, so that the result does not depend on who did what.
 */
export class SharedWork {
  constructor(
    private readonly block: WorkBlock,
    private readonly run: RunPart,
  ) {}

  /** The owner's side: all of `size` units in parts of `part`; the sum of what the parts returned. */
  share(kernel: number, size: number, part: number, given: readonly number[]): number {
    const { control } = this.block;
    this.block.given.set(given);
    if (size <= part) return this.run(kernel, 0, size, this.block.given, 0);
    control[KERNEL] = kernel;
    control[SIZE] = size;
    control[PART] = part;
    control[TOTAL] = 0;
    Atomics.store(control, NEXT, 0);
    Atomics.store(control, OPEN, 1);
    Atomics.notify(control, OPEN);
    const own = this.takeParts(0);
    Atomics.store(control, OPEN, 0);
    this.awaitHelper();
    return own + Atomics.load(control, TOTAL);
  }

  /** The helper's side: takes part in whatever is open, then waits a while for more. */
  help(): void {
    const { control } = this.block;
    if (Atomics.load(control, OPEN) === 0) Atomics.wait(control, OPEN, 0, PATIENCE);
    // From here on the owner waits; whether the work is still open may only now be asked.
    Atomics.add(control, BUSY, 1);
    if (Atomics.load(control, OPEN) === 1) Atomics.add(control, TOTAL, this.takeParts(1));
    Atomics.sub(control, BUSY, 1);
    Atomics.notify(control, BUSY);
  }

  private takeParts(thread: 0 | 1): number {
    const { control, given } = this.block;
    const size = control[SIZE]!;
    const part = control[PART]!;
    const kernel = control[KERNEL]!;
    let sum = 0;
    for (;;) {
      const from = Atomics.add(control, NEXT, 1) * part;
      if (from >= size) return sum;
      sum += this.run(kernel, from, Math.min(size, from + part), given, thread);
    }
  }

  private awaitHelper(): void {
    const { control } = this.block;
    for (let i = 0; i < SPINS; i++) if (Atomics.load(control, BUSY) === 0) return;
    while (Atomics.load(control, BUSY) !== 0) Atomics.wait(control, BUSY, 1, PATIENCE);
  }
}
