import { aRow, showPart } from '../../../testing/part';
import { BulkDialog } from './bulk-dialog';
import { ContactDialog } from './contact-dialog';
import { MergeDialog } from './merge-dialog';

const standings = { standings: [{ standing: { id: 'customer', name: 'Customer' }, due: 0, all: 1 }] };

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

  test('proposes companies there are, while their name is typed', async () => {
    const part = await show();
    const box = part.field('Company');
    box.dispatchEvent(new Event('focusin'));
    await part.type(box, 'penr');
    await part.pass(200);
    const asked = await part.answer('/api/companies', {
      rows: [
        { id: 'c1', name: 'Penrow Laundry' },
        { id: 'c2', name: 'Penrose Spa' },
      ],
    });
    await part.settle();
    expect(asked.request.params.get('q')).toBe('penr');
    const options = [...document.querySelectorAll<HTMLElement>('mat-option')];
    expect(options.map((each) => each.textContent.trim())).toEqual(['Penrow LaundryGB', 'Penrose SpaGB']);
    options[0]!.click();
    await part.settle();
    expect(box.value).toBe('Penrow Laundry');
  });

  test('sends what was typed, and keeps it when a field is refused', async () => {
    const part = await show();
    await part.type(part.field('Given name'), 'Theo');
    await part.type(part.field('Family name'), 'Quill');
    await part.type(part.field('Phone'), '12');
    await part.click(part.button('Add'));
    expect(part.root.querySelector('mat-error')!.textContent).toContain('must be a whole telephone number');
    expect(part.field('Phone').value).toBe('12');
    await part.type(part.field('Phone'), '01632 960012');
    await part.click(part.button('Add'));
    expect(part.server.match('/api/contacts/similar').length).toBeGreaterThanOrEqual(0);
    const sent = part.asked('/api/contacts');
    expect(sent.request.body).toMatchObject({
      givenName: 'Theo',
      phone: '+441632960012',
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
    expect(part.field('Phone').value).toBe('01632 960012');
  });

  test('a further address takes the place of the preferred one, which becomes a further one', async () => {
    const part = await show();
    await part.type(part.field('E-mail'), 'one@a.example');
    await part.click(part.button('add an e-mail'));
    await part.type(part.field('Address or link'), 'two@a.example');
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
    const fields = [...part.root.querySelectorAll('tbody td:first-child')].map((each) =>
      each.textContent.trim(),
    );
    expect(fields).toEqual(['given name', 'job title', 'warmth']);
    const given = [...part.root.querySelectorAll<HTMLInputElement>('input[name=givenName]')];
    given[1]!.click();
    await part.settle();
    await part.click(part.button('Merge'));
    expect(part.asked('/api/contacts/merge').request.body).toMatchObject({
      keepId: '01900000-0000-7000-8000-00000000000a',
      goneVersion: 4,
      take: ['givenName', 'jobTitle', 'warmth'],
    });
  });

  test('somebody’s change meanwhile is shown, and both are read again', async () => {
    const part = await show();
    await part.click(part.button('Merge'));
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
  test('what cannot be read says how to write it, and changes nobody', async () => {
    const part = await showPart(BulkDialog, { data: { selection: { ids: ['a', 'b'] }, count: 2 } });
    await part.answer('/api/standings', standings);
    await part.choose('Field', 'own check-in interval');
    await part.type(part.field('New value'), 'a fortnight');
    await part.pass(300);
    expect(part.root.textContent).toMatch(/must be a number|is not a number/);
    part.server.expectNone('/api/bulk/plan');
    await part.type(part.field('New value'), '14');
    await part.pass(300);
    expect(part.asked('/api/bulk/plan').request.body).toMatchObject({ act: { value: 14 } });
    expect(part.root.textContent).not.toContain('number');
  });

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
