import fc from 'fast-check';
import { expect, it } from 'vitest';
import { matchModes } from '../values/match-keys.ts';
import { PackedRecords, packedLine } from './packed-records.ts';
import { RecordsSource, type RecordQuery, type StoredRecordOf } from './record-source.ts';

const text = fc.constantFrom('Fen', 'fen ', 'Alder', 'alder\tgrowers\n', 'Ördög', '1', '2', '');
const data = fc.record({ name: text, firm: fc.constantFrom('1', '2', '3') }, { requiredKeys: [] });
const query: fc.Arbitrary<RecordQuery> = fc.oneof(
  fc.record({
    kind: fc.constant('record' as const),
    recordType: fc.constantFrom('deal', 'firm'),
    id: fc.constantFrom('1', '2', '7', '01', 'x'),
  }),
  fc.record({
    kind: fc.constant('children' as const),
    recordType: fc.constant('deal'),
    field: fc.constant('firm'),
    id: fc.constantFrom('1', '2', '9'),
  }),
  fc.record({
    kind: fc.constant('match' as const),
    recordType: fc.constant('deal'),
    field: fc.constant('name'),
    mode: fc.constantFrom(...matchModes),
    value: text,
  }),
);

const pieceOf = (bytes: Uint8Array, shared: boolean): Uint8Array => {
  const piece = new Uint8Array(shared ? new SharedArrayBuffer(bytes.length) : new ArrayBuffer(bytes.length));
  piece.set(bytes);
  return piece;
};

it('answers as a list of the same records does, however the bytes are cut and how many are remembered', () => {
  fc.assert(
    fc.property(
      fc.array(data, { maxLength: 12 }),
      fc.array(query, { minLength: 1, maxLength: 6 }),
      fc.integer({ min: 1, max: 40 }),
      fc.integer({ min: 1, max: 4 }),
      fc.boolean(),
      (list, queries, cut, remembered, shared) => {
        const records = list.map((d, i): StoredRecordOf => ({ recordType: 'deal', id: String(i * 2 + 1), data: d }));
        const bytes = new TextEncoder().encode(
          records.map((r) => packedLine(Number(r.id), JSON.stringify(r.data))).join(''),
        );
        const packed = new PackedRecords(remembered);
        for (let at = 0; at < bytes.length; at += cut) packed.take('deal', pieceOf(bytes.slice(at, at + cut), shared));
        const source = new RecordsSource(records);
        expect(packed.count('deal')).toBe(records.length);
        for (const ask of queries) expect(packed.answer(ask)).toEqual(source.answer(ask));
        records.forEach(({ id, data: d }, i) => {
          expect(packed.at('deal', i)).toEqual({ id, data: d });
        });
      },
    ),
  );
});
