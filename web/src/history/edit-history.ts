/** Undo and redo over immutable states. A drag counts as one step: begin, change as often as you like, commit. */
export class EditHistory<State> {
  private past: State[] = [];
  private future: State[] = [];
  private dragStart: State | null = null;

  constructor(
    public present: State,
    private readonly limit = 200,
  ) {}

  get canUndo(): boolean {
    return this.past.length > 0;
  }
  get canRedo(): boolean {
    return this.future.length > 0;
  }

  /** A whole edit. */
  commit(next: State): void {
    if (next === this.present) return;
    this.push(this.dragStart ?? this.present);
    this.dragStart = null;
    this.present = next;
  }

  /** A change within a drag; the state before the first is what undo returns to. */
  change(next: State): void {
    this.dragStart ??= this.present;
    this.present = next;
  }

  /** Ends a drag; nothing is remembered when it came back to where it began. */
  settle(): boolean {
    const start = this.dragStart;
    this.dragStart = null;
    if (start === null || start === this.present) return false;
    this.push(start);
    return true;
  }

  undo(): boolean {
    this.settle();
    const previous = this.past.pop();
    if (previous === undefined) return false;
    this.future.push(this.present);
    this.present = previous;
    return true;
  }

  redo(): boolean {
    const next = this.future.pop();
    if (next === undefined) return false;
    this.past.push(this.present);
    this.present = next;
    return true;
  }

  private push(state: State): void {
    this.past.push(state);
    if (this.past.length > this.limit) this.past.shift();
    this.future = [];
  }
}
