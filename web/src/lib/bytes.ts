/** Amounts of data as people read them. */

/** In MiB, in GiB from 1024 MiB on; "under 1 MiB" where there is less. */
export function bytesText(bytes: number): string {
  const mib = bytes / 2 ** 20;
  if (bytes === 0) return '0 MiB';
  if (mib < 1) return 'under 1 MiB';
  return mib < 1024 ? `${Math.round(mib)} MiB` : `${(mib / 1024).toFixed(1)} GiB`;
}
