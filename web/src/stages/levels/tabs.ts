/** What the bench of Levels is about. */
export const TABS = [
  { id: 'stations', name: 'Stations' },
  { id: 'trims', name: 'Trims' },
  { id: 'sums', name: 'Sums' },
  { id: 'figures', name: 'Figures' },
  { id: 'suggestions', name: 'Suggestions' },
] as const;
