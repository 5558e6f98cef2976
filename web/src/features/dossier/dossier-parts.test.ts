import type { JournalEntry } from '@kettle/contract';
import { anEntry, aRow, showPart } from '../../../testing/part';
import { ContactFacts } from './contact-facts';
import { FileList } from './file-list';
import { JournalLines } from './journal-lines';
import { RichText } from './rich-text';
import { TaskDialog } from './task-dialog';

const entry = (part: Partial<JournalEntry> = {}) =>
  anEntry({
    kind: 'call',
    direction: 'out',
    outcomeLabel: 'Spoke',
    minutes: 7,
    body: 'wants a price',
    ...part,
  });

describe('journal entries', () => {
  const show = (entries: JournalEntry[], inputs: object = {}) =>
    showPart(JournalLines, { inputs: { entries, canEdit: true, ...inputs } });

  test('say what, how long, when, by whom and with whom', async () => {
    const part = await show([
      entry({ people: [{ id: 'x' as never, name: 'Theo Quill' }], done: ['took readings'] }),
    ]);
    const text = part.root.textContent.replace(/\s+/g, ' ');
    for (const words of [
      'Spoke',
      '7 min',
      'Mon 23 Nov 10:00',
      'Imogen Thorne',
      'wants a price',
      'Theo Quill',
      'took readings',
    ])
      expect(text).toContain(words);
  });

  test('long ones are folded until asked for, or all expanded', async () => {
    const part = await show([entry({ body: 'long '.repeat(80) })]);
    expect(part.root.querySelector('.folded')).not.toBeNull();
    await part.click(part.button('more'));
    expect(part.root.querySelector('.folded')).toBeNull();
    part.fixture.componentRef.setInput('entries', [
      entry({ id: 'other' as never, body: 'long '.repeat(80) }),
    ]);
    part.fixture.componentRef.setInput('isExpanded', true);
    await part.settle();
    expect(part.root.querySelector('.folded')).toBeNull();
  });

  test('the system’s own have no acts; a removed one says by whom', async () => {
    const part = await show([
      entry({ kind: 'system', body: 'Standing: New → Customer' }),
      entry({ id: 'r' as never, removedAt: '2026-11-24T09:00:00.000Z', removedByName: 'Corin Vale' }),
    ]);
    expect(part.root.querySelectorAll('[aria-label^="Acts on"]')).toHaveLength(1);
    expect(part.root.textContent).toContain('removed by Corin Vale');
  });
});

test('rich text is cleaned before it is shown', async () => {
  const part = await showPart(RichText, {
    inputs: {
      text: '<p>Two <strong>boilers</strong><img src=x onerror="alert(1)"><script>alert(2)</script></p>',
    },
  });
  expect(part.root.querySelector('strong')!.textContent).toBe('boilers');
  expect(part.root.querySelector('img, script')).toBeNull();
});

describe('facts', () => {
  const contact = {
    ...(aRow({ doNotContact: [{ channel: 'call', since: '', origin: '' }] }) as object),
    emailUnusable: false,
    emailLabel: 'work',
    phoneLabel: null,
    otherPoints: [{ kind: 'link', label: null, value: 'https://penrow.example' }],
    otherCompanies: [],
    siteName: null,
    zoneByHand: false,
    about: '',
  };

  test('empty fields are hidden until asked for; a channel that is not to be used is no link', async () => {
    const part = await showPart(ContactFacts, { inputs: { contact } });
    const names = () => [...part.root.querySelectorAll('dt')].map((each) => each.textContent);
    expect(names()).not.toContain('warmth');
    expect([...part.root.querySelectorAll('a')].map((each) => each.getAttribute('href'))).toEqual([
      'mailto:maud@penrow.example',
      'https://penrow.example',
    ]);
    expect(part.root.textContent).toContain('01632 960123');
    await part.click(part.button('show empty fields'));
    expect(names()).toContain('warmth');
  });
});

describe('files', () => {
  const file = (name: string, size: number) => {
    const made = new File(['x'], name);
    Object.defineProperty(made, 'size', { value: size });
    return made;
  };

  test('one too large is refused here, with the reason; a picture can be looked at, a page never', async () => {
    const part = await showPart(FileList, { inputs: { record: { kind: 'contact', id: 'maud' } } });
    await part.answer('/api/files', {
      files: [
        {
          id: 'f1',
          name: 'boiler.png',
          mediaType: 'image/png',
          size: 2048,
          canPreview: true,
          userName: 'Imogen',
          at: '2026-11-24T09:00:00.000Z',
        },
        {
          id: 'f2',
          name: 'page.html',
          mediaType: 'application/octet-stream',
          size: 99,
          canPreview: false,
          userName: 'Imogen',
          at: '2026-11-24T09:00:00.000Z',
        },
      ],
    });
    (part.shown as unknown as { take(files: unknown): void }).take([file('film.mov', 26 * 1024 * 1024)]);
    await part.settle();
    expect(part.root.querySelector('[role=alert]')!.textContent).toContain(
      'film.mov: It is larger than 25 MB.',
    );
    await part.click(part.button('boiler.png'));
    expect(part.root.querySelector('img')!.getAttribute('src')).toBe('/api/files/f1?preview=yes');
    expect(() => part.button('page.html')).toThrow();
  });
});

describe('planning a task', () => {
  test('sends who does it, the reminder and the rule; a rule that is none is told at its field', async () => {
    const part = await showPart(TaskDialog, { data: { contactId: 'maud', dealId: null } });
    await part.answer('/api/colleagues', {
      people: [
        { id: 'me', name: 'Imogen' },
        { id: 'dara', name: 'Dara Finch' },
      ],
    });
    await part.type(part.field('Purpose'), 'check the salt');
    await part.choose('Assigned to', 'Dara Finch');
    await part.choose('Comes again', 'by a rule of my own');
    await part.type(part.field(/Own rule/), 'each monday');
    await part.click(part.button('Plan'));
    const sent = part.asked('/api/tasks');
    expect(sent.request.body).toMatchObject({
      purpose: 'check the salt',
      ownerId: 'dara',
      repeats: 'each monday',
      contactId: 'maud',
    });
    sent.flush(
      {
        code: 'not-a-rule',
        detail: 'That is not a rule.',
        fields: [{ path: 'repeats', message: 'is not a rule for repeating' }],
      },
      { status: 422, statusText: 'no' },
    );
    await part.settle();
    expect(part.root.textContent).toContain('is not a rule for repeating');
    expect(part.field('Purpose').value).toBe('check the salt');
  });
});
