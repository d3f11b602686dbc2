/**
 * What a page and the server say to each other of the draft, and who may say it: one meaning for both. The page holds
 * itself to it so that nobody types what will be refused; the server, because pages cannot be trusted.
 */
import type { MappingTable, Operation, Part, PartRef } from '@rigid-rule/core/document';

/** A part with the number of its state: one more with each edit, also where it is taken away and made again. */
export interface VersionedPart extends Part {
  readonly version: number;
}

/** All of the draft, and a stamp that tells this state of it from every other. */
export interface WholeDraft {
  readonly parts: readonly VersionedPart[];
  readonly stamp: string;
}

/** An edit of one part as a page sends it. */
export interface SentEdit extends PartRef {
  /** The version that the edit was made on; 0 where the part is made by it. */
  readonly version: number;
  readonly operations: readonly Operation[];
  /** Where the part stands among those of its kind; absent: where it stood. */
  readonly position?: number | undefined;
  /** UUID: an edit that comes a second time is not done a second time. */
  readonly id?: string | undefined;
}

export interface SentEdits {
  /** Names the page, so that it does not hear of its own edits. */
  readonly page: string;
  readonly edits: readonly SentEdit[];
}

/** The version that each part has by now; 0 where the edit took it away. */
export type PartVersion = PartRef & { readonly version: number };

export interface EditsSaved {
  readonly outcome: 'saved';
  readonly versions: readonly PartVersion[];
}

/** The answer to edits that were taken. */
export interface SavedEdits extends EditsSaved {
  /** How many things the draft changes about what is live. */
  readonly changes: number;
}

/** Somebody else changed the part since: theirs, and who it was. */
export interface PartClash extends PartRef {
  /** Absent where they took the part away. */
  readonly part?: VersionedPart;
  readonly by: string | null;
}

/** The answer to edits of which none was taken. */
export interface EditsClash {
  readonly outcome: 'clash';
  readonly clashes: readonly PartClash[];
}

/** An edit of someone else, as open pages hear of it. */
export interface RemoteEdit extends PartRef {
  readonly by: string;
  /** Absent where it was taken away, or where what was done to it is told instead. */
  readonly part?: VersionedPart;
  readonly change?: PartEdited;
}

/** What an edit did to a part that was of the version before. */
export interface PartEdited {
  readonly version: number;
  readonly operations: readonly Operation[];
}

/** What a person may change of the draft. */
export interface EditRights {
  /** All of it. */
  readonly editable: boolean;
  /** Otherwise the rows of the tables that name this email, and nothing else. */
  readonly keeper?: string | undefined;
}

export const keepsTable = (
  { editable, keeper }: EditRights,
  table: Pick<MappingTable, 'keepers'> | undefined,
): boolean => editable || (keeper !== undefined && table?.keepers?.includes(keeper) === true);

const inRows = ({ path }: Operation): boolean => /^\/rows(?:\/|$)/.test(path);

/** `body`: of the part as it stands; undefined where there is none. */
export function mayEditPart(
  rights: EditRights,
  { kind, operations, position }: Pick<SentEdit, 'kind' | 'operations' | 'position'>,
  body: unknown,
): boolean {
  if (rights.editable) return true;
  if (kind !== 'table' || body === undefined || position !== undefined) return false;
  return keepsTable(rights, body as MappingTable) && operations.every(inRows);
}
