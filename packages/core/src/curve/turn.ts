import { type Key, Tangent, type TangentKind } from "./curve.ts";

/** A kind whose slope does not depend on the neighbours: auto and smooth become free. */
export function freedKind<Kind extends number>(kind: Kind): Kind | typeof Tangent.free {
  return kind === Tangent.auto || kind === Tangent.smooth ? Tangent.free : kind;
}

/** The key with both tangents held as they are now. */
export function freedKey(key: Key): Key {
  return { ...key, kindIn: freedKind(key.kindIn) as TangentKind, kindOut: freedKind(key.kindOut) as TangentKind };
}

/**
 * Keys mirrored in time about half of `sum` (t becomes sum − t), in order again: tangents are held and
 * swap sides. A hold becomes a hold of the key after it, which keeps even stepped motion exact.
 */
export function turnedKeys(keys: readonly Key[], sum: number): Key[] {
  const turned = keys.map((key, i): Key => {
    const { slopeIn, slopeOut, weightIn, weightOut } = key;
    const [kindIn, kindOut] = [freedKind(key.kindIn) as TangentKind, freedKind(key.kindOut) as TangentKind];
    // Where a segment is stepped from both ends the key before it wins; only that one may be mirrored.
    const covered = i > 0 && keys[i - 1].kindOut === Tangent.stepped;
    return {
      time: sum - key.time,
      value: key.value,
      slopeIn: -slopeOut,
      slopeOut: -slopeIn,
      weightIn: weightOut,
      weightOut: weightIn,
      kindIn: kindOut,
      kindOut: covered ? Tangent.flat : kindIn,
    };
  });
  return turned.reverse();
}
