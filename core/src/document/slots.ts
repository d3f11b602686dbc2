/** Where a field's value stands among those of its record: the index of the field in its record type. */
declare const brand: unique symbol;
export type SlotIndex = number & { readonly [brand]: 'slot' };

/** An index into the fields of a record type, known to be one. */
export const slotAt = (index: number): SlotIndex => index as SlotIndex;

/** That of a field that is not among those of the record type. */
export const noSlot = slotAt(-1);
