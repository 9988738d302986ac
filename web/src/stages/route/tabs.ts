/** What the middle of Route's bench is about. */
export const TABS = [
  { id: 'many', name: 'Route rows' },
  { id: 'row', name: 'Sends and keys' },
] as const;
