import * as fc from 'fast-check';
import type { WrittenRow } from '../../platform/work/written';
import { inOrderOfLeaving, netEffects } from './net-effect';

const row = (position: number, part: Partial<WrittenRow>): WrittenRow => ({
  position,
  table: 'task',
  key: '{"id":"01"}',
  op: 'update',
  refs: { id: '01' },
  was: null,
  became: null,
  ...part,
});

describe('the net effect of a change set', () => {
  test('a row that came and went leaves nothing', () => {
    expect(
      netEffects([
        row(1, { op: 'insert' }),
        row(2, { was: { state: 'open' }, became: { state: 'done' } }),
        row(3, { op: 'delete', was: { id: '01', state: 'done' } }),
      ]),
    ).toEqual([]);
  });

  test('a row that came stands where it was written last, so that what refers to it goes before it', () => {
    const effects = netEffects([
      row(1, { op: 'insert', key: 'a' }),
      row(2, { op: 'insert', key: 'b' }),
      row(3, { key: 'a', was: { state: 'open' }, became: { state: 'done' } }),
    ]);
    expect(effects.map(({ kind, row: { key } }) => `${kind} ${key}`)).toEqual(['inserted b', 'inserted a']);
  });

  test('what refers to a row goes before it, also when the row itself was written last', () => {
    const effects = netEffects([
      row(1, { op: 'insert', table: 'company', key: 'firm', refs: { id: '0a' } }),
      row(2, { op: 'insert', table: 'contact', key: 'person', refs: { id: '0b', company_id: '0a' } }),
      row(3, { op: 'insert', table: 'task', key: 'task', refs: { id: '0c', contact_id: '0b' } }),
      row(4, {
        table: 'company',
        key: 'firm',
        refs: { id: '0a' },
        was: { city: null },
        became: { city: 'x' },
      }),
    ]);
    const leaving = inOrderOfLeaving([...effects].reverse());
    expect(leaving.map(({ row: { key } }) => key)).toEqual(['task', 'person', 'firm']);
  });

  test('a deleted row is known as it was before the set wrote to it', () => {
    const [effect] = netEffects([
      row(1, { was: { purpose: 'ask' }, became: { purpose: 'tell' } }),
      row(2, { op: 'delete', was: { id: '01', purpose: 'tell', minutes: '6' } }),
    ]);
    expect(effect).toMatchObject({ kind: 'deleted', image: { id: '01', purpose: 'ask', minutes: '6' } });
  });

  test('a row that is deleted and made again under its key is replaced', () => {
    const [effect] = netEffects([
      row(1, { op: 'delete', was: { id: '01', role: 'uses' } }),
      row(2, { op: 'insert' }),
    ]);
    expect(effect).toMatchObject({ kind: 'replaced', image: { id: '01', role: 'uses' } });
  });

  test('a counted version alone is no effect', () => {
    expect(netEffects([row(1, { was: { version: '1' }, became: { version: '2' } })])).toEqual([]);
  });

  test('however often columns change, the first and the last value count, and one that is back is none', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('a', 'b', 'c'), { minLength: 1, maxLength: 8 }),
        fc.constantFrom('a', 'b', 'c'),
        (values, start) => {
          let current = start;
          const rows = values.flatMap((value, index) => {
            const was = current;
            current = value;
            return was === value
              ? []
              : [row(index + 1, { was: { purpose: was }, became: { purpose: value } })];
          });
          const effects = netEffects(rows);
          expect(effects).toMatchObject(
            start === current
              ? []
              : [{ kind: 'updated', was: { purpose: start }, became: { purpose: current } }],
          );
        },
      ),
    );
  });
});
