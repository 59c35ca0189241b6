/** The shift an arrow key asks for: 1 px, 10 with Shift, 0.1 with Alt. */
export function nudgeOf(event: { key: string; shiftKey: boolean; altKey: boolean }): [number, number] | null {
  const size = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
  switch (event.key) {
    case 'ArrowLeft':
      return [-size, 0];
    case 'ArrowRight':
      return [size, 0];
    case 'ArrowUp':
      return [0, -size];
    case 'ArrowDown':
      return [0, size];
    default:
      return null;
  }
}
