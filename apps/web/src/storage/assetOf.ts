/** The file that a record's character came from, whatever else is wrong with it. */
export function assetOf(record: unknown): { hash: string; bytes: number } | null {
  const asset = (record as { shot?: { asset?: { hash?: unknown; bytes?: unknown } | null } } | null)?.shot?.asset;
  return typeof asset?.hash === "string" ? { hash: asset.hash, bytes: Number(asset.bytes) || 0 } : null;
}

/** Put the hash of a record's file among others. */
export function addAsset(record: unknown, named: Set<string>): void {
  const asset = assetOf(record);
  if (asset) named.add(asset.hash);
}
