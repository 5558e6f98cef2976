import type { FilterGroup } from '@kettle/contract';
import { aRow, showPart } from '../../../testing/part';
import { BulkDialog } from './bulk-dialog';
import { CellEditor } from './cell-editor';
import { ContactDialog } from './contact-dialog';
import { askedOnly, FilterBuilder } from './filter-builder';
import { addCustomTexts, readCustomTexts } from '../fields/index';
import { allColumns } from './grid-columns';
import { MergeDialog } from './merge-dialog';
import { PeopleStore } from './people.store';
import { TestBed } from '@angular/core/testing';
import { Component, inject } from '@angular/core';

const columns = allColumns([]);
const column = (key: string) => columns.find((each) => each.key === key)!;
const standings = { standings: [{ standing: { id: 'customer', name: 'Customer' }, due: 0, all: 1 }] };

describe('the cell editor', () => {
  const edit = async (key: string, row: object = {}) => {
    const part = await showPart(CellEditor, { inputs: { row: aRow(row), column: column(key) } });
    const said: unknown[] = [];
    part.shown.saved.subscribe((each) => said.push(each));
    part.shown.left.subscribe(() => said.push('left'));
    const box = part.root.querySelector<HTMLInputElement>('input, select')!;
    const press = (key_: string) =>
      box.dispatchEvent(new KeyboardEvent('keydown', { key: key_, bubbles: true, cancelable: true }));
    return { box, said, press };
  };

  test('Enter saves, Tab saves and goes on, Escape leaves it', async () => {
    const one = await edit('email');
    one.box.value = ' m@penrow.example ';
    one.press('Enter');
    expect(one.said).toEqual([{ value: 'm@penrow.example', end: 'stay' }]);
    TestBed.resetTestingModule();
    const two = await edit('email');
    two.box.value = '';
    two.press('Tab');
    expect(two.said).toEqual([{ value: null, end: 'next' }]);
    TestBed.resetTestingModule();
    const three = await edit('email');
    three.box.value = 'other';
    three.press('Escape');
    three.box.dispatchEvent(new Event('blur'));
    expect(three.said).toEqual(['left']);
  });

  test('tags are words between commas; what is unchanged is not sent', async () => {
    const one = await edit('tags', { tags: ['steam'] });
    one.box.value = 'steam, audit;';
    one.press('Enter');
    expect(one.said).toEqual([{ value: ['steam', 'audit'], end: 'stay' }]);
    TestBed.resetTestingModule();
    const two = await edit('tags', { tags: ['steam'] });
    two.press('Enter');
    expect(two.said).toEqual(['left']);
  });
});

describe('the filter builder', () => {
  const show = async (group: FilterGroup) => {
    const part = await showPart(FilterBuilder, { inputs: { group, columns } });
    const changes: FilterGroup[] = [];
    part.shown.changed.subscribe((each) => changes.push(each));
    return { part, changes };
  };

  test('offers the questions that fit the field, and a value of its kind', async () => {
    const { part, changes } = await show({
      join: 'all',
      rules: [{ field: 'last-touch', ask: 'not-within-past' }],
    });
    const asks = await part.choicesOf('Question');
    expect(asks).toContain('does not lie within the past (days)');
    expect(asks).not.toContain('contains');
    await part.type(part.field('Value'), '30');
    expect(changes.at(-1)?.rules[0]).toEqual({ field: 'last-touch', ask: 'not-within-past', value: 30 });
    await part.choose('Field', 'warmth');
    expect(changes.at(-1)?.rules[0]).toEqual({ field: 'warmth', ask: 'is' });
  });

  test('adds questions and groups, turns and into or, and takes questions out', async () => {
    const { part, changes } = await show({
      join: 'all',
      rules: [
        { field: 'name', ask: 'has' },
        { field: 'email', ask: 'empty' },
      ],
    });
    await part.click(part.button(/joined by and/));
    expect(changes.at(-1)?.join).toBe('any');
    await part.click(part.button('add a group'));
    expect(changes.at(-1)?.rules[2]).toEqual({ join: 'any', rules: [{ field: 'name', ask: 'has' }] });
    await part.click(part.button('Take this question out'));
    expect(changes.at(-1)?.rules).toEqual([{ field: 'email', ask: 'empty' }]);
  });

  test('a question without its value narrows nothing yet', () => {
    const half: FilterGroup = {
      join: 'all',
      rules: [
        { field: 'name', ask: 'has' },
        { field: 'email', ask: 'empty' },
        { join: 'any', rules: [{ field: 'name', ask: 'is', value: '' }] },
      ],
    };
    expect(askedOnly(half)).toEqual({ join: 'all', rules: [{ field: 'email', ask: 'empty' }] });
  });
});

describe('the list of people', () => {
  @Component({ selector: 'kettle-test-list', template: '', providers: [PeopleStore] })
  class List {
    readonly store = inject(PeopleStore);
  }
  const rows = (from: number, count: number) =>
    Array.from({ length: count }, (_, n) => aRow({ id: `row-${from + n}`, name: `Row ${from + n}` }));

  test('is counted at once and read by pages where the screen stands', async () => {
    const part = await showPart(List);
    const { store } = part.shown;
    store.show({ sort: 'name' });
    await part.answer('/api/contacts/count', { found: 50_000, total: 60_000 });
    await part.answer('/api/contacts', { rows: rows(0, 100) });
    expect(store.lines()).toHaveLength(50_000);
    expect(store.row(99)?.name).toBe('Row 99');
    expect(store.row(25_030)).toBeNull();
    store.need(25_030, 25_060);
    await part.pass(90);
    const asked = part.asked('/api/contacts');
    expect(asked.request.params.get('from')).toBe('25000');
    asked.flush({ rows: rows(25_000, 100) });
    expect(store.row(25_030)?.name).toBe('Row 25030');
    // What lies far away is let go, and asked for again when it is scrolled to.
    expect(store.row(0)).toBeNull();
  });

  test('groups stand at their places; a folded one keeps its head and the rows after it stay right', async () => {
    const part = await showPart(List);
    const { store } = part.shown;
    store.show({ group: 'standing' });
    await part.answer('/api/contacts/count', { found: 5, total: 5 });
    await part.answer('/api/contacts/groups', {
      groups: [
        { key: 'a', name: 'A', count: 2 },
        { key: null, name: 'empty', count: 3 },
      ],
    });
    await part.answer('/api/contacts', { rows: rows(0, 5) });
    const said = () => store.lines().map((line) => (line.kind === 'group' ? line.group.name : line.at));
    expect(said()).toEqual(['A', 0, 1, 'empty', 2, 3, 4]);
    store.fold('a');
    expect(said()).toEqual(['A', 'empty', 2, 3, 4]);
  });
});

describe('adding a person', () => {
  const show = () =>
    showPart(ContactDialog, {
      data: null,
    });

  test('warns of a double with its evidence while typing, and opens it', async () => {
    const part = await show();
    await part.type(part.field('Family name'), 'Elery');
    await part.pass(400);
    await part.answer('/api/contacts/similar', {
      like: [
        {
          contact: aRow(),
          likeness: 'likely',
          score: 0.8,
          evidence: [{ about: 'name', words: '97 % alike' }],
        },
      ],
    });
    expect(part.root.textContent).toContain('Already here?');
    expect(part.root.textContent).toContain('97 % alike');
    await part.click(part.button('Maud Ellery'));
    expect(part.closedWith).toEqual([{ id: '01900000-0000-7000-8000-00000000000a' }]);
  });

  test('sends what was typed, and keeps it when a field is refused', async () => {
    const part = await show();
    await part.type(part.field('Given name'), 'Theo');
    await part.type(part.field('Family name'), 'Quill');
    await part.type(part.field('Phone'), '12');
    await part.click(part.button('Add'));
    expect(part.server.match('/api/contacts/similar').length).toBeGreaterThanOrEqual(0);
    const sent = part.asked('/api/contacts');
    expect(sent.request.body).toMatchObject({
      givenName: 'Theo',
      phone: '12',
      country: null,
      zone: null,
      tags: [],
    });
    sent.flush(
      {
        code: 'invalid-request',
        detail: 'Check the marked fields.',
        fields: [{ path: 'phone', message: 'must be a telephone number' }],
      },
      { status: 400, statusText: 'Bad Request' },
    );
    await part.settle();
    expect(part.root.querySelector('mat-error')!.textContent).toContain('must be a telephone number');
    expect(part.field('Phone').value).toBe('12');
  });

  test('a further address takes the place of the preferred one, which becomes a further one', async () => {
    const part = await show();
    await part.type(part.field('E-mail'), 'one@a.example');
    await part.click(part.button('add an e-mail'));
    await part.type(part.field('Address, number or link'), 'two@a.example');
    await part.click(part.button('prefer'));
    await part.click(part.button('Add'));
    expect(part.asked('/api/contacts').request.body).toMatchObject({
      email: 'two@a.example',
      otherPoints: [{ kind: 'email', value: 'one@a.example' }],
    });
  });
});

describe('merging', () => {
  const one = aRow({ jobTitle: null, otherPoints: [] });
  const other = aRow({
    id: '01900000-0000-7000-8000-00000000000b',
    name: 'Mode Elery',
    givenName: 'Mode',
    warmth: 'hot',
    version: 4,
  });
  const show = async () => {
    const part = await showPart(MergeDialog, {
      data: {
        oneId: '01900000-0000-7000-8000-00000000000a',
        otherId: '01900000-0000-7000-8000-00000000000b',
      },
    });
    await part.answer('/api/contacts/01900000-0000-7000-8000-00000000000a', one);
    await part.answer('/api/contacts/01900000-0000-7000-8000-00000000000b', other);
    return part;
  };

  test('only fields that differ are asked about; gaps are filled; the choice is sent', async () => {
    const part = await show();
    const fields = [...part.root.querySelectorAll('tbody th')].map((each) => each.textContent);
    expect(fields).toEqual(['given name', 'job title', 'warmth']);
    const given = [...part.root.querySelectorAll<HTMLInputElement>('input[name=givenName]')];
    given[1]!.click();
    await part.settle();
    await part.click(part.button('Make them one'));
    expect(part.asked('/api/contacts/merge').request.body).toMatchObject({
      keepId: '01900000-0000-7000-8000-00000000000a',
      goneVersion: 4,
      take: ['givenName', 'jobTitle', 'warmth'],
    });
  });

  test('somebody’s change meanwhile is shown, and both are read again', async () => {
    const part = await show();
    await part.click(part.button('Make them one'));
    await part.refuse('/api/contacts/merge', {
      status: 409,
      code: 'stale',
      detail: 'Somebody changed this.',
    });
    expect(part.root.textContent).toContain('Somebody changed this.');
    expect(part.asked('/api/contacts/01900000-0000-7000-8000-00000000000a')).toBeTruthy();
  });
});

describe('many at once', () => {
  test('shows what will change, starts it, tells who could not be, and undoes it', async () => {
    const part = await showPart(BulkDialog, { data: { selection: { ids: ['a', 'b'] }, count: 2 } });
    await part.answer('/api/standings', standings);
    await part.click(part.button('add a tag'));
    await part.type(part.field('Tag'), 'autumn');
    await part.pass(300);
    await part.answer('/api/bulk/plan', {
      words: '',
      changes: 1,
      same: 0,
      refused: [{ reason: 'belongs to Rufus', count: 1 }],
      samples: [],
    });
    expect(part.root.textContent.replace(/\s+/g, ' ')).toContain(
      '1 will change, 1 cannot be: belongs to Rufus',
    );
    await part.click(part.button('Change 1'));
    const progress = {
      id: 'x',
      words: 'tag',
      state: 'done',
      total: 2,
      waiting: 0,
      changed: 1,
      same: 0,
      failed: [{ contactId: 'b', name: 'B', reason: 'belongs to Rufus' }],
      failedCount: 1,
      unfinished: 1,
      kept: 0,
    };
    const sent = part.asked('/api/bulk');
    expect(sent.request.body).toMatchObject({
      act: { kind: 'add-tag', tag: 'autumn' },
      selection: { ids: ['a', 'b'] },
    });
    sent.flush(progress);
    await part.settle();
    expect(part.root.querySelector('ul')!.textContent).toContain('belongs to Rufus');
    expect(part.root.querySelector('[role=alert]')!.textContent).toContain('1 person is left');
    await part.click(part.button('Try again'));
    await part.answer(`/api/bulk/${(sent.request.body as { id: string }).id}/retry`, {
      ...progress,
      unfinished: 0,
    });
    expect(part.root.querySelector('[role=alert]')).toBeNull();
    await part.click(part.button('Undo it all'));
    expect(part.server.match((request) => request.url.endsWith('/undo'))).toHaveLength(1);
  });
});

describe('custom fields in a form', () => {
  const field = {
    id: 'f1',
    subject: 'contact',
    name: 'Boilers',
    type: 'number',
    choices: [],
    isRetired: false,
    version: 1,
  } as never;

  test('only what differs from before is sent; a field that was never shown is not emptied', () => {
    const texts: Record<string, string> = {};
    expect(readCustomTexts(texts, [field], { f1: 3 })).toEqual({});
    addCustomTexts(texts, { f1: 3 }, [field]);
    expect(texts).toEqual({ f1: '3' });
    expect(readCustomTexts(texts, [field], { f1: 3 })).toEqual({});
    expect(readCustomTexts({ f1: '' }, [field], { f1: 3 })).toEqual({ f1: null });
    expect(readCustomTexts({ f1: 'many' }, [field], {})).toMatchObject({
      message: expect.stringContaining('Boilers'),
    });
    addCustomTexts(texts, { f1: 9 }, [field]);
    expect(texts).toEqual({ f1: '3' });
  });
});
