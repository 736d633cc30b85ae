/**
 * One tab edits a shot at a time. Resolves to true when this tab has it from now on; `onFree` is called
 * when another tab that had it lets go.
 */
export async function takeShot(id: string, onFree: () => void): Promise<boolean> {
  const { locks } = navigator;
  if (!locks) return true;
  const name = `kneader-shot-${id}`;
  const taken = await new Promise<boolean>((resolve) => {
    void locks.request(name, { ifAvailable: true }, (lock) => {
      resolve(lock !== null);
      return lock === null ? undefined : new Promise<void>(() => undefined);
    });
  });
  if (!taken)
    void locks.request(name, () => {
      onFree();
      return new Promise<void>(() => undefined);
    });
  return taken;
}
