import { Component, inject, Injectable, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { ContactRow, FilterGroup } from '@kettle/contract';
import { gridFields } from '@kettle/contract/grids/people';
import { map, Subject } from 'rxjs';
import { isUnavailable, aCount, aRow, type Part, showPart } from '../../../testing/part';
import { Api } from '../../api/api';
import { ChangeStream } from '../../services/change-stream';
import { CellEditor } from './cell-editor';
import { columnsOf } from './columns';
import { askedOnly, FilterBuilder } from './filter-builder';
import { GiveDialog } from './give-dialog';
import { GivePicked } from './give-picked';
import { type GridQuery, GridSpec } from './grid-spec';
import { GridStore } from './grid-store';
import { GridTools } from './grid-tools';
import { GridView } from './grid-view';
import { provideGrid } from './provide-grid';
import { RecordGrid } from './record-grid';

/** A list of contacts with a summed column, as small as a list can be. */
@Injectable()
class Rows extends GridSpec<ContactRow> {
  private readonly api = inject(Api);
  readonly place = 'leads';
  readonly words = { one: 'lead', many: 'leads', counted: 'lead|leads' };
  readonly fields = {
    ...gridFields,
    worth: {
      name: 'worth',
      type: 'money' as const,
      isSummed: true,
      of: (row: ContactRow) => row.version * 100,
    },
  };
  readonly usualColumns = 'name,email,worth,owner';
  readonly usualSort = 'name';
  override readonly usual = { owner: 'mine' };
  readonly everything = { owner: 'all' };
  readonly phoneKeys = ['worth', 'email'] as const;
  readonly topics = ['contact'] as const;
  readonly exportPath = '/api/contacts/export';
  nameOf = (row: ContactRow) => row.name;
  recordOf = (row: ContactRow) => ({ kind: 'contact' as const, id: row.id });
  ownerOf = (row: ContactRow) => ({ id: row.ownerId, name: row.ownerName });
  rows = (query: GridQuery, page: object) =>
    this.api.call('listContacts', { query: { ...query, ...page } as never }).pipe(map(({ rows }) => rows));
  count = (query: GridQuery) => this.api.call('countContacts', { query: query as never });
}
const providers = provideGrid(Rows);

const columns = columnsOf<ContactRow>(gridFields, []);
const column = (key: string) => columns.find((each) => each.key === key)!;
const rows = (from: number, count: number, part: object = {}) =>
  Array.from({ length: count }, (_, n) =>
    aRow({
      id: `01900000-0000-7000-8000-${String(from + n).padStart(12, '0')}`,
      name: `Row ${from + n}`,
      ...part,
    }),
  );

/** jsdom lays nothing out: the viewport is told a height, so that it renders rows. */
beforeEach(() => {
  Object.defineProperty(HTMLElement.prototype, 'clientHeight', { configurable: true, value: 400 });
});

describe('the cell editor', () => {
  const edit = async (key: string, row: object = {}) => {
    const part = await showPart(CellEditor, { inputs: { row: aRow(row), column: column(key) }, providers });
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

describe('what others change', () => {
  const show = async () => {
    const [mine, about, elsewhere] = [new Subject<never>(), new Subject<never>(), new Subject<never>()];
    jest.spyOn(ChangeStream.prototype, 'mine').mockReturnValue(mine);
    jest.spyOn(ChangeStream.prototype, 'about').mockReturnValue(about);
    jest.spyOn(ChangeStream.prototype, 'elsewhere').mockReturnValue(elsewhere);
    @Component({ template: '' })
    class Page {
      readonly store = inject<GridStore<ContactRow>>(GridStore);
    }
    const part = await showPart(Page, { providers });
    part.shown.store.show({});
    await part.answer('/api/contacts/count', aCount(2));
    await part.answer('/api/contacts', { rows: rows(0, 2) });
    const asked = async (by: Subject<never>) => {
      by.next(undefined as never);
      await part.pass(10);
      return part.server.match(() => true).map(({ request }) => request.url);
    };
    return { part, mine, about, elsewhere, asked };
  };
  afterEach(() => jest.restoreAllMocks());

  test('is read again at once where it is on screen or one’s own, and else only counted', async () => {
    const { mine, about, elsewhere, asked } = await show();
    expect(await asked(about)).toEqual(['/api/contacts/count', '/api/contacts']);
    expect(await asked(mine)).toEqual(['/api/contacts/count', '/api/contacts']);
    expect(await asked(elsewhere)).toEqual(['/api/contacts/count']);
  });

  test('is read again when the count says that there are more', async () => {
    const { part, elsewhere } = await show();
    elsewhere.next(undefined as never);
    await part.pass(10);
    await part.answer('/api/contacts/count', aCount(3));
    expect(part.asked('/api/contacts')).toBeDefined();
  });
});

describe('the filter builder', () => {
  const worth = { key: 'worth', name: 'worth', type: 'money' as const };
  const show = async (group: FilterGroup) => {
    const part = await showPart(FilterBuilder, { inputs: { group, columns: [...columns, worth] } });
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

  test('asks whether there was contact, with one’s own choice of what counts; something has to', async () => {
    const { part, changes } = await show({
      join: 'all',
      rules: [{ field: 'contacted', ask: 'not-within-past', value: 90, of: ['call', 'note'] }],
    });
    const boxes = [...part.root.querySelectorAll<HTMLInputElement>('.measures input')];
    expect(boxes.filter(({ checked }) => checked)).toHaveLength(2);
    await part.click(boxes[0]!);
    expect(changes.at(-1)?.rules[0]).toMatchObject({ of: ['mail-in', 'call', 'note'] });
    part.fixture.componentRef.setInput('group', {
      join: 'all',
      rules: [{ field: 'contacted', ask: 'not-within-past', value: 90, of: ['call'] }],
    });
    await part.settle();
    const asked = changes.length;
    await part.click(boxes[2]!);
    expect(changes).toHaveLength(asked);
    expect([boxes[2]!.checked, boxes[2]!.getAttribute('aria-disabled')]).toEqual([true, 'true']);
    expect(document.body.textContent).toContain('Something has to count: tick another one first.');
  });

  test('a number is written as people write it: money, a share, days; wrong ones say how', async () => {
    const { part, changes } = await show({
      join: 'all',
      rules: [{ field: 'worth', ask: 'more', value: 4400 }],
    });
    expect(part.field('Value').value).toBe('4,400');
    await part.type(part.field('Value'), '12.5k');
    expect(changes.at(-1)?.rules[0]).toMatchObject({ value: 12_500 });
    part.fixture.componentRef.setInput('group', {
      join: 'all',
      rules: [{ field: 'contacted', ask: 'within-past', value: 30 }],
    });
    await part.settle();
    await part.type(part.field('Value'), '-5');
    part.field('Value').dispatchEvent(new Event('blur'));
    await part.settle();
    expect(part.root.textContent).toContain('must be a whole number such as 12, from 0 to 36500');
    // What cannot be read narrows nothing.
    expect(askedOnly(changes.at(-1)!).rules).toEqual([]);
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
    await part.click(part.button('Remove this question'));
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

describe('the rows of a list', () => {
  @Component({ selector: 'kettle-test-list', template: '', providers })
  class List {
    readonly store = inject<GridStore<ContactRow>>(GridStore);
  }

  test('are counted at once and read by pages where the screen stands', async () => {
    const part = await showPart(List);
    const { store } = part.shown;
    store.show({ sort: 'name' });
    await part.answer('/api/contacts/count', aCount(50_000, { total: 60_000 }));
    await part.answer('/api/contacts', { rows: rows(0, 100) });
    expect(store.lines()).toHaveLength(50_000);
    expect(store.row(99)?.name).toBe('Row 99');
    expect(store.row(25_030)).toBeNull();
    store.need(25_030, 25_060);
    await part.pass(90);
    const asked = part.asked('/api/contacts');
    expect(asked.request.params.get('after')).toBe('25000');
    asked.flush({ rows: rows(25_000, 100) });
    expect(store.row(25_030)?.name).toBe('Row 25030');
    // What lies far away is let go, and asked for again when it is scrolled to.
    expect(store.row(0)).toBeNull();
  });

  test('stand in their groups; a folded one keeps its head and the rows after it stay right', async () => {
    const part = await showPart(List);
    const { store } = part.shown;
    store.show({ group: 'standing' });
    const groups = [
      { key: 'a', name: 'A', count: 2, sums: {} },
      { key: null, name: 'empty', count: 3, sums: {} },
    ];
    await part.answer('/api/contacts/count', aCount(5, { groups }));
    await part.answer('/api/contacts', { rows: rows(0, 5) });
    const said = () => store.lines().map((line) => (line.kind === 'group' ? line.group.name : line.at));
    expect(said()).toEqual(['A', 0, 1, 'empty', 2, 3, 4]);
    store.fold('a');
    expect(said()).toEqual(['A', 'empty', 2, 3, 4]);
  });
});

describe('the grid', () => {
  @Component({
    selector: 'kettle-test-page',
    template: `
      <kettle-grid-tools>
        <ng-container picked><kettle-give-picked kind="lead" /></ng-container>
      </kettle-grid-tools>
      @if (store.lines().length > 0) {
        <kettle-record-grid />
      }
    `,
    imports: [GridTools, RecordGrid, GivePicked],
    providers,
  })
  class Page {
    readonly store = inject<GridStore<ContactRow>>(GridStore);
    readonly view = inject<GridView<ContactRow>>(GridView);
  }
  const show = async (count: object = {}, ofRows: object = {}): Promise<Part<Page>> => {
    const part = await showPart(Page);
    await part.answer('/api/contacts/count', aCount(3, { total: 7, sums: { worth: 600 }, ...count }));
    await part.answer('/api/contacts', { rows: rows(0, 3, ofRows) });
    await part.pass(50);
    return part;
  };
  test('asks for what is counted only when a column shows it', async () => {
    const part = await showPart(Page);
    const countedOf = () => part.asked('/api/contacts').request.params.get('counted');
    expect(countedOf()).toBe('no');
    part.shown.view.follow(signal({ cols: 'name,call-many' }));
    await part.settle();
    expect(countedOf()).toBeNull();
  });

  const said = (element: Element | null) => element?.textContent.replace(/\s+/g, ' ').trim() ?? '';
  const press = async (part: Part<unknown>, key: string) => {
    window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
    await part.pass(10);
  };
  const inPicture = (width: number) =>
    Object.defineProperty(window, 'matchMedia', {
      configurable: true,
      value: (media: string) => ({
        matches: media === '(width < 700px)' && width < 700,
        media,
        addListener: () => undefined,
        removeListener: () => undefined,
      }),
    });
  afterEach(() => inPicture(1280));

  test('asks for what it shows by itself without calling that a filter, and says what it does not show', async () => {
    const part = await showPart(Page);
    const { params } = part.asked('/api/contacts').request;
    expect([params.get('owner'), params.get('after'), params.get('limit')]).toEqual(['mine', '0', '100']);
    part.server.match('/api/contacts');
    const other = await (TestBed.resetTestingModule(), show());
    expect(said(other.root)).toContain('3 found · 4 not shown');
    expect(other.shown.view.hasFilter()).toBe(false);
  });

  test('adds up what is summed below the rows, and in the head of each group', async () => {
    const groups = [{ key: 'a', name: 'Alpha', count: 3, sums: { worth: 600 } }];
    const part = await show({ groups });
    expect(said(part.root.querySelector('.totals'))).toBe('total£6');
    expect(said(part.root.querySelector('.group'))).toBe('Alpha3worth £6');
  });

  test('goes by the arrows and picks with I; what is picked can go to somebody at once, undone as one', async () => {
    const part = await show();
    await press(part, 'ArrowDown');
    await press(part, 'ArrowDown');
    expect(said(part.root.querySelector('[role=row].chosen'))).toContain('Row 1');
    await press(part, 'i');
    expect(said(part.root.querySelector('.picked'))).toContain('1 picked');
    await part.click(part.button(/^Change owner/));
    await part.pass(50);
    expect(document.querySelector('kettle-give-dialog')!.textContent).toContain('owner of 1 lead');
  });

  test('colleagues’ rows can be picked, and say who changes them', async () => {
    const part = await show({}, { ownerId: 'dara', ownerName: 'Dara Voss' });
    await press(part, 'ArrowDown');
    await press(part, 'i');
    expect(said(part.root.querySelector('.picked'))).toContain('These are colleagues’ leads');
    expect(() => part.button(/^Change owner/)).toThrow();
  });

  test('on a phone a row is two lines: the name and one thing beside it, the others below', async () => {
    inPicture(390);
    const part = await show({}, { email: 'maud@penrow.example' });
    const line = part.root.querySelector('.line')!;
    expect(said(line.querySelector('.first'))).toBe('Row 0 £1');
    expect(said(line.querySelector('.second'))).toBe('maud@penrow.example');
    expect(part.root.querySelector('kettle-grid-head')).toBeNull();
  });

  test('shows as many of the usual columns as there is room for, and all that were chosen', async () => {
    const part = await show();
    const { view } = part.shown;
    view.room.set(460);
    expect(view.fitting().map(({ key }) => key)).toEqual(['name', 'email']);
    view.room.set(1200);
    expect(view.fitting()).toHaveLength(4);
  });
});

describe('another owner for picked ones', () => {
  const give = async (kind: 'lead' | 'deal') => {
    const part = await showPart(GiveDialog, { data: { kind, ids: ['a', 'b'], words: `2 ${kind}s` } });
    await part.answer('/api/colleagues', { people: [{ id: 'dara', name: 'Dara Voss', role: 'rep' }] });
    return part;
  };

  test('is chosen among colleagues, for leads also the pool; it is sent once and can be undone', async () => {
    const part = await give('lead');
    expect(await part.choicesOf('New owner')).toEqual(['nobody: into the pool', 'Dara Voss']);
    await part.choose('New owner', 'Dara Voss');
    await part.click(part.button('Change owner'));
    await part.click(part.button('Change owner'));
    const asked = part.server.match('/api/records/give');
    expect(asked.map(({ request }) => request.body as unknown)).toEqual([
      { kind: 'lead', ids: ['a', 'b'], ownerId: 'dara' },
    ]);
    asked[0]!.flush({ given: 1, left: 1 });
    await part.settle();
    expect(part.closedWith).toEqual([true]);
    expect(document.body.textContent).toContain('1 now with Dara Voss. 1 stay as they were');
  });

  test('leads are shared out among several once one of them is a person', async () => {
    const part = await showPart(GiveDialog, { data: { kind: 'lead', ids: ['a', 'b'], words: '2 leads' } });
    const people = ['Dara Voss', 'Rhys Calder', 'Mina Okell'].map((name) => ({
      ...{ id: name.slice(0, 4).toLowerCase(), name, role: 'rep' },
    }));
    await part.answer('/api/colleagues', { people });
    await part.choose('New owner', 'nobody: into the pool');
    expect(part.root.querySelectorAll('mat-checkbox')).toHaveLength(0);
    await part.choose('New owner', 'Dara Voss');
    const names = [...part.root.querySelectorAll('mat-checkbox')].map((each) => each.textContent.trim());
    expect(names).toEqual(['Rhys Calder', 'Mina Okell']);
    await part.click(part.root.querySelector<HTMLInputElement>('mat-checkbox input')!);
    expect(part.root.textContent).toContain('one after the other, evenly');
    await part.click(part.button('Change owner'));
    const asked = part.asked('/api/records/give');
    expect(asked.request.body).toEqual({ kind: 'lead', ids: ['a', 'b'], ownerId: 'dara', alsoTo: ['rhys'] });
    asked.flush({ given: 2, left: 0 });
    await part.settle();
    expect(document.body.textContent).toContain('2 now with Dara Voss, Rhys Calder.');
  });

  test('a refusal is said where it was asked, and what was chosen stays', async () => {
    const part = await give('deal');
    expect(await part.choicesOf('New owner')).toEqual(['Dara Voss']);
    await part.choose('New owner', 'Dara Voss');
    await part.click(part.button('Change owner'));
    await part.refuse('/api/records/give', { status: 403, code: 'not-yours', detail: 'It is Rhys’s.' });
    expect(part.root.textContent).toContain('It is Rhys’s.');
    expect(isUnavailable(part.button('Change owner'))).toBe(false);
  });
});
