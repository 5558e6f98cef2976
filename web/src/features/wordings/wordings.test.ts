import { isUnavailable, showPart } from '../../../testing/part';
import { SnippetDialog } from '../templates/snippet-dialog';
import { TemplatesPage } from '../templates/index';
import { compare } from './compare';
import { ReviewDialog } from './review-dialog';
import { WordingHistory } from './wording-history';

const said = (root: HTMLElement) => root.textContent.replace(/\s+/g, ' ');
const template = {
  id: 't1',
  name: 'Hello',
  channel: 'email',
  subject: 'Water',
  body: 'Dear Maud',
  isRetired: false,
  uses: 1,
  files: [],
  version: 3,
};
const texts = { templates: [template], snippets: [], facts: [], signature: '' };
const wording = {
  id: 'w1',
  act: 'changeTemplate',
  templateId: 't1',
  snippetId: null,
  cadenceId: null,
  name: 'Hello',
  state: 'waiting',
  authorId: 'imogen',
  authorName: 'Imogen Thorne',
  at: '2026-11-24T08:00:00.000Z',
  decidedByName: null,
  decidedAt: null,
  said: null,
  asked: {
    name: 'Hello',
    channel: 'email',
    subject: 'Water',
    body: 'Good day',
    version: 3,
    isRetired: false,
  },
  version: 1,
};

describe('a change that waits for release', () => {
  const show = async (setting: { releases: boolean; part?: object }) => {
    const part = await showPart(ReviewDialog, { data: { ...wording, ...setting.part }, ...setting });
    await part.answer('/api/templates', texts);
    await part.answer('/api/cadences', { cadences: [] });
    return part;
  };

  test('shows what it changes beside what is in use, and only that; released over its version', async () => {
    const part = await show({ releases: true });
    expect(said(part.root)).toContain('Textin useDear Maudasked forGood day');
    expect(said(part.root)).not.toContain('Subject');
    await part.click(part.button('Release it'));
    expect(part.asked('/api/wordings/w1/release').request.body).toEqual({ version: 1 });
  });

  test('is declined only with a reason', async () => {
    const part = await show({ releases: true });
    await part.click(part.button(/^Decline/));
    expect(isUnavailable(part.button('Decline it'))).toBe(true);
    await part.type(part.field<HTMLTextAreaElement>(/Why not/), 'too long');
    await part.click(part.button('Decline it'));
    expect(part.asked('/api/wordings/w1/decline').request.body).toEqual({ version: 1, said: 'too long' });
  });

  test('whoever may not release it can only look, and withdraw their own', async () => {
    const part = await show({ releases: false });
    expect([...part.root.querySelectorAll('button')].map((each) => each.textContent.trim())).toEqual([
      'Close',
    ]);
  });

  test('a conflict with a change of others is settled by field, and released again with that', async () => {
    const part = await show({ releases: true });
    await part.click(part.button('Release it'));
    await part.refuse('/api/wordings/w1/release', {
      status: 409,
      code: 'stale',
      detail: 'Somebody changed this',
      fields: [{ path: 'body', message: 'was changed by Petra meanwhile' }],
      current: { ...template, body: 'Hi', version: 4 },
    });
    expect(said(part.root)).toContain('was changed by Petra meanwhile');
    await part.click(part.button('Release it'));
    expect(part.asked('/api/wordings/w1/release').request.body).toMatchObject({ resolved: { version: 4 } });
  });
});

describe('a rep’s change of what goes out', () => {
  test('of a template is sent for release over the version it was written on, and the form is as before', async () => {
    const part = await showPart(TemplatesPage, { releases: false });
    await part.answer('/api/templates', texts);
    await part.answer('/api/contacts', { rows: [] });
    await part.answer('/api/wordings', { wordings: [] });
    const box = part.field<HTMLTextAreaElement>('Text');
    await part.type(box, 'Good day');
    await part.click(part.button('Send for release'));
    const asked = part.asked('/api/wordings');
    expect(asked.request.body).toMatchObject({
      asked: { act: 'changeTemplate', templateId: 't1', body: { body: 'Good day', version: 3 } },
    });
    asked.flush(wording);
    await part.settle();
    expect(box.value).toBe('Dear Maud');
    expect(document.body.textContent).toContain('Hello waits for release by a manager.');
  });

  test('of a snippet too', async () => {
    const part = await showPart(SnippetDialog, { data: null, releases: false });
    await part.type(part.field(/^Name/), 'hours');
    await part.type(part.field<HTMLTextAreaElement>('Text'), 'We open at eight.');
    await part.click(part.button('Send for release'));
    expect(part.asked('/api/wordings').request.body).toMatchObject({
      asked: { act: 'createSnippet', body: { name: 'hours', body: 'We open at eight.' } },
    });
  });
});

const step = {
  channel: 'email' as const,
  offsetDays: 2,
  windowStart: 540,
  windowEnd: 1020,
  minutes: 4,
  purpose: 'say hello',
  fallbackChannel: null,
  mode: 'by-itself' as const,
  templateIds: ['t1'],
  skipWhen: [],
};
const released = { ...wording, state: 'released', decidedAt: wording.at, decidedByName: 'Imogen Thorne' };

describe('earlier wordings', () => {
  test('of a snippet are read when they are asked for, and one goes back into the form', async () => {
    const snippet = { id: 's1', name: 'hours', body: 'We open at nine.', version: 2 };
    const part = await showPart(SnippetDialog, { data: snippet, releases: true });
    const list = part.root.querySelector('details')!;
    list.open = true;
    list.dispatchEvent(new Event('toggle'));
    await part.settle();
    const asked = part.asked('/api/wordings');
    expect(asked.request.params.get('snippetId')).toBe('s1');
    const earlier = [
      { ...released, id: 'w2', asked: { body: 'We open at nine.' } },
      { ...released, id: 'w1', asked: { body: 'We open at eight.' } },
    ];
    asked.flush({ wordings: earlier });
    await part.settle();
    expect(said(part.root)).toContain('Imogen Thorne · in use');
    await part.click(part.button('take it into the form'));
    expect(part.field<HTMLTextAreaElement>('Text').value).toBe('We open at eight.');
  });

  test('of a cadence are said as steps, with who wrote and who released them', async () => {
    const part = await showPart(WordingHistory, {
      inputs: { of: { cadenceId: 'c1' }, version: 1, nameOf: () => 'Hello' },
    });
    const list = part.root.querySelector('details')!;
    list.open = true;
    list.dispatchEvent(new Event('toggle'));
    await part.settle();
    const asked = { name: 'One', definition: { steps: [step], answeredStep: null } };
    await part.answer('/api/wordings', { wordings: [{ ...released, decidedByName: 'Corin Vale', asked }] });
    expect(said(part.root)).toContain('released by Corin Vale');
    expect(said(part.root)).toContain('1. E-mail, goes by itself, after 2 working days');
    expect(said(part.root)).toContain('say hello (Hello)');
  });
});

test('a cadence is compared step by step, in words', () => {
  const [name, steps] = compare(
    { name: 'One', definition: { steps: [step], answeredStep: null } },
    null,
    () => 'Hello',
  );
  expect(name).toMatchObject({ label: 'Name', now: '', asked: 'One' });
  expect(steps!.asked).toBe(
    '1. E-mail, goes by itself, after 2 working days, 09:00 to 17:00: say hello (Hello)',
  );
});
