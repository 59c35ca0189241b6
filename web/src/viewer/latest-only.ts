/** A drawing that is done once at a time: what is asked for meanwhile is drawn once more when it has ended. `after` is called each time. */
export function latestOnly(draw: () => Promise<unknown>, after: () => void): () => Promise<void> {
  let busy = false;
  let again = false;
  return async function paint(): Promise<void> {
    if (busy) {
      again = true;
      return;
    }
    busy = true;
    await draw();
    busy = false;
    after();
    if (again) {
      again = false;
      void paint();
    }
  };
}
