/** Keys that go from cell to cell of a matrix; Alt is needed up and down, where a value's own keys are. */
export function moveInCells(event: KeyboardEvent): boolean {
  const here = (event.currentTarget as HTMLElement).closest<HTMLElement>('[data-cell]');
  const row = here?.closest('[role=row]');
  if (!here || !row) return false;
  const cellsOf = (of: Element | undefined) => [...(of?.querySelectorAll<HTMLElement>('[data-cell]') ?? [])];
  const inRow = cellsOf(row);
  const beyond = (by: 1 | -1) => {
    const rows = [...document.querySelectorAll('[role=row]')];
    for (let n = rows.indexOf(row) + by; n >= 0 && n < rows.length; n += by) {
      const cell = cellsOf(rows[n]).find((c) => c.dataset['cell'] === here.dataset['cell']);
      if (cell) return cell;
    }
    return undefined;
  };
  const ways: Record<string, () => HTMLElement | undefined> = {
    ArrowLeft: () => inRow[inRow.indexOf(here) - 1],
    ArrowRight: () => inRow[inRow.indexOf(here) + 1],
    ArrowUp: () => (event.altKey ? beyond(-1) : undefined),
    ArrowDown: () => (event.altKey ? beyond(1) : undefined),
  };
  const to = ways[event.key]?.();
  if (!to) return false;
  event.preventDefault();
  event.stopPropagation();
  const value = to.querySelector<HTMLElement>('[data-level] [role=spinbutton]');
  (value ?? to.querySelector<HTMLElement>('[role=spinbutton], button'))?.focus();
  return true;
}
