import type { Control } from "../../model/rig.ts";
import type { ShotAsset } from "../../model/shot.ts";
import type { WriteChoices } from "../format.ts";
import type { GltfFile } from "./gate.ts";
import type { MotionTrack } from "./motion.ts";

interface Channel {
  readonly sampler: number;
  readonly target: { readonly node?: number; readonly path: string };
}

interface Sampler {
  readonly input: number;
  readonly output: number;
}

const knownPaths: ReadonlySet<string> = new Set(["translation", "rotation", "scale", "weights"]);

/** The animation of a file in whose place a shot's motion goes, or none. */
export class OldAnimation {
  /** Its number; null when the motion goes beside what is there. */
  readonly at: number | null;
  /** As it stands in the file, with all that is not known here. */
  readonly whole: Readonly<Record<string, unknown>>;
  private readonly channels: readonly Channel[];
  private readonly samplers: readonly Sampler[];
  private readonly meant: ReadonlySet<number>;

  /** `meant` are the controls whose motion is written. */
  constructor(file: GltfFile, { animation, nodes }: ShotAsset, { adds }: WriteChoices, meant: readonly string[]) {
    const list = (file.whole.animations as Readonly<Record<string, unknown>>[] | undefined) ?? [];
    this.at = adds || animation === null || !list[animation] ? null : animation;
    this.whole = this.at === null ? {} : list[this.at];
    this.channels = (this.whole.channels as Channel[] | undefined) ?? [];
    this.samplers = (this.whole.samplers as Sampler[] | undefined) ?? [];
    this.meant = new Set(meant.map((id) => nodes[id]));
  }

  /** What of it stays, its samplers counted anew: what moves nothing that is meant, other nodes and what is not known here. */
  staying(): { channels: Channel[]; samplers: Sampler[] } {
    const stay = this.channels.filter(({ target }) => !this.isReplaced(target));
    const used = [...new Set(stay.map(({ sampler }) => sampler))];
    return {
      channels: stay.map((channel) => ({ ...channel, sampler: used.indexOf(channel.sampler) })),
      samplers: used.map((sampler) => this.samplers[sampler]),
    };
  }

  /** Does it move this property of a node? */
  moves(node: number, path: string): boolean {
    return this.channels.some(({ target }) => target.node === node && target.path === path);
  }

  /** What it moves and the shot does not, as one key at rest: whoever plays another animation before this one is put back by it. */
  resting(controls: readonly Control[], { nodes, shapes }: ShotAsset, tracks: readonly MotionTrack[]): MotionTrack[] {
    const written = new Set(tracks.map(({ control, path }) => `${control}/${path}`));
    return controls.flatMap((control) => {
      const { id, rest, restTurn } = control;
      if (!this.meant.has(nodes[id])) return [];
      const still = { translation: rest, rotation: restTurn, scale: [1, 1, 1], weights: (shapes[id] ?? []).map(() => 0) } as const;
      return (Object.keys(still) as (keyof typeof still)[]).flatMap((path): MotionTrack[] => {
        if (still[path].length === 0 || written.has(`${id}/${path}`) || !this.moves(nodes[id], path)) return [];
        return [{ control: id, path, kind: "STEP", seconds: Float32Array.of(0), values: Float32Array.from(still[path]) }];
      });
    });
  }

  private isReplaced({ node, path }: Channel["target"]): boolean {
    return node !== undefined && this.meant.has(node) && knownPaths.has(path);
  }
}
