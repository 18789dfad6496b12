import { extensionOf, folderOf, nameOf } from '../../paths';
import { placesAt, sidecarFor } from '../../rulebooks';
import * as say from '../findings/remark';
import type { Remark } from '../findings/remark';
import type { PlanState } from './state';

/** Reports foreign videos that the player does not find. */
export class Mismatches {
  constructor(private readonly state: PlanState) {}

  /** Videos on the player that it cannot read because the names of folder, file and sidecar do not match. */
  say(): void {
    const { shelves, world, findings } = this.state.parts;
    const missed = [...shelves.unplaced()].filter(
      ({ code, path }) => (code === 'namesDiffer' || code === 'noSidecar') && !world.isWanted(path),
    );
    const sidecars = new Map<string, string>();
    if (missed.length > 0)
      for (const { path, role } of world.stayingFiles())
        if (role === 'sidecar') sidecars.set(folderOf(path), path);
    const said = missed.flatMap(
      ({ path }) => this.mismatch(path, sidecars.get(folderOf(path)) ?? null) ?? [],
    );
    this.state.parts.mismatches = findings.exchange(this.state.parts.mismatches, said);
  }

  private mismatch(path: string, sidecar: string | null): Remark | null {
    const kind = placesAt(this.state.rulebook, path)[0]?.kinds[0];
    const rules = kind && sidecarFor(this.state.rulebook, kind);
    if (!rules) return null;
    const folder = folderOf(path);
    const base = `${folder}/${nameOf(folder)}`;
    const wanted = [
      { path, to: `${base}.${extensionOf(path)}` },
      ...(sidecar ? [{ path: sidecar, to: `${base}.${rules.extension}` }] : []),
    ];
    const { there } = this.state.parts.world;
    const renames = wanted.flatMap(({ path: from, to }) => {
      const file = there.files.get(this.state.keys.of(from));
      if (!sidecar || from === to || !file || !there.isFreeFor(from, to)) return [];
      return [{ path: from, was: { size: file.size, digest: file.digest }, to }];
    });
    return say.sidecarMismatch(path, sidecar, renames);
  }
}
