/** Which version of each part the server has, as far as is known here, and since when that is known. */
export class ServerVersions {
  private readonly versions = new Map<string, number>();
  /** The moment at which each was last heard of; also of parts that are gone. */
  private readonly heard = new Map<string, number>();
  private moment = 0;

  /** 0: it has none. `id`: of the part. */
  of(id: string): number {
    return this.versions.get(id) ?? 0;
  }

  /** `version`: undefined where the server has the part no more. */
  set(id: string, version: number | undefined): void {
    this.heard.set(id, ++this.moment);
    if (version === undefined) this.versions.delete(id);
    else this.versions.set(id, version);
  }

  /** This moment: what is read from the server from now on knows all that is known here. */
  now(): number {
    return this.moment;
  }

  /** Whether a part was heard of after a moment: what was read then may not know of it. */
  heardSince(id: string, moment: number): boolean {
    return (this.heard.get(id) ?? 0) > moment;
  }
}
