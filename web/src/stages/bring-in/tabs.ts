/** What the bench of Bring in is about. */
export const TABS = [
  { id: 'files', name: 'Files' },
  { id: 'sound', name: 'Sound' },
  { id: 'pattern', name: 'Pattern' },
  { id: 'song', name: 'Song' },
  { id: 'takes', name: 'MIDI takes' },
  { id: 'cut', name: 'Cut a loop' },
  { id: 'tune', name: 'Tune' },
] as const;
