import { aCount, isUnavailable, type Part, showPart } from '../../../testing/part';
import { PhoneLine } from '../round/index';
import { TemplatesPage } from '../templates/index';
import { FilePickedDialog } from './file-picked-dialog';
import { MailPage } from './mail-page';
import { StirringList } from './stirring-list';
import { TakeInDialog } from './take-in-dialog';
import { WriteDialog } from './write-dialog';

const said = (root: HTMLElement) => root.textContent.replace(/\s+/g, ' ');
const mail = (part: object = {}) => ({
  id: 'm1',
  direction: 'in',
  state: 'unfiled',
  kind: 'human',
  at: '2026-11-24T08:00:00.000Z',
  fromName: 'Owen Tarrant',
  fromAddress: 'owen@elsewhere.example',
  toAddress: 'imogen@hollinbeck.example',
  subject: 'Re: Your water test',
  opening: 'Yes, call me',
  contactId: null,
  contactName: null,
  companyName: null,
  dealId: null,
  dealName: null,
  ownerId: null,
  ownerName: null,
  said: null,
  proof: 'proven',
  proofWords: 'DMARC pass',
  version: 4,
  ...part,
});
const whole = (part: object = {}) => ({
  ...mail(part),
  text: 'Yes, call me',
  html: null,
  blockedPictures: 0,
  thread: [],
  proposed: [
    { contactId: 'owen', name: 'Owen Tarrant', companyName: null, why: 'has this address', deals: [] },
  ],
  deals: [],
  known: [],
  ...part,
});
const counts = { unfiled: 1, held: 0, waiting: 0, sent: 0, filed: 0, 'let-go': 0 };
const press = async (part: Part<unknown>, key: string) => {
  window.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
  await part.settle();
};

async function answerList(part: Part<unknown>, rows: object[]): Promise<void> {
  await part.answer('/api/mail/count', { ...aCount(rows.length), counts });
  await part.answer('/api/mail', { rows });
  await part.pass(50);
}

describe('mail as files', () => {
  const eml = (name: string) => new File(['From: a'], name, { type: 'message/rfc822' });

  test('several are dropped: what is none is named with why, the others are taken in; one is taken out by its link', async () => {
    const part = await showPart(MailPage, { inputs: {} });
    await answerList(part, [mail()]);
    await part.answer('/api/mail/m1', whole());
    expect(part.root.querySelector<HTMLAnchorElement>('a[download]')!.getAttribute('href')).toBe(
      '/api/mail/m1/eml',
    );
    const event = new Event('drop', { bubbles: true, cancelable: true });
    Object.assign(event, {
      dataTransfer: { types: ['Files'], files: [eml('a.eml'), eml('b.eml'), eml('c.eml')] },
    });
    part.root.dispatchEvent(event);
    expect(event.defaultPrevented).toBe(true);
    await part.answer('/api/mail/files', { isNew: true });
    await part.refuse('/api/mail/files', {
      ...{ status: 400, code: 'invalid-request', detail: 'Put it right.' },
      fields: [{ path: 'file', message: 'is no mail' }],
    });
    await part.answer('/api/mail/files', { isNew: false });
    expect(part.root.querySelector('[role="alert"]')!.textContent).toBe('b.eml: it is no mail.');
    expect(document.body.textContent).toContain('1 mail is taken in, 1 was here already.');
  });
});

describe('mail', () => {
  const show = async (one: object, box?: string, opened: object = {}) => {
    const part = await showPart(MailPage, { inputs: box ? { box } : {} });
    await answerList(part, [mail(one)]);
    await part.answer('/api/mail/m1', whole({ ...one, ...opened }));
    return part;
  };

  test('what is not proven is said, and what filing an opt-out does; a contradicted address is not kept', async () => {
    const part = await show({
      proof: 'contradicted',
      proofWords: 'DMARC fail (elsewhere.example)',
      kind: 'unsubscribe',
    });
    expect(said(part.root)).toContain('Probably not from owen@elsewhere.example');
    expect(said(part.root)).toContain('DMARC fail (elsewhere.example)');
    expect(said(part.root)).toContain('Filed, it marks the person so');
    await press(part, 'p');
    expect(part.asked('/api/mail/m1/file').request.body).toMatchObject({ keepAddress: false });
  });

  test('an unproven one says so, a proven one by what', async () => {
    const unproven = await show({ proof: 'unproven', proofWords: 'nobody checked who it is from' });
    expect(said(unproven.root)).toContain('Not proven to be from owen@elsewhere.example. nobody checked');
  });

  test('one key files it with the first person proposed, over its version', async () => {
    const part = await show({});
    expect(said(part.root)).toContain('To file 1');
    await press(part, 'p');
    const asked = part.asked('/api/mail/m1/file');
    expect(asked.request.body).toEqual({
      version: 4,
      contactId: 'owen',
      dealId: null,
      keepAddress: true,
    });
    asked.flush(mail({ state: 'filed' }));
    await part.settle();
    expect(document.body.textContent).toContain('Filed with Owen Tarrant.');
  });

  test('it goes to the deal of theirs that it means, or to the one that is chosen', async () => {
    const deals = [
      { id: 'd2', name: 'Boiler treatment' },
      { id: 'd1', name: 'Softener' },
    ];
    const proposed = [
      { contactId: 'owen', name: 'Owen Tarrant', companyName: null, why: 'has this address', deals },
    ];
    const part = await show({}, undefined, { proposed });
    expect(said(part.root)).toContain('Boiler treatment');
    await press(part, 'p');
    expect(part.asked('/api/mail/m1/file').request.body).toMatchObject({ dealId: 'd2' });
  });

  const filed = { state: 'filed', contactId: 'owen', contactName: 'Owen Tarrant' };
  const writer = (part: object = {}) => ({
    companies: [],
    like: [],
    differs: [],
    contactVersion: 7,
    ...part,
  });

  test('a filed one of somebody with several deals is put with the one it means by one key', async () => {
    const deals = [{ id: 'd2', name: 'Boiler treatment' }];
    const part = await show(filed, 'filed', { deals });
    await part.answer('/api/mail/m1/writer', writer());
    expect(said(part.root)).toContain('Put with “Boiler treatment”');
    await press(part, 'd');
    const asked = part.asked('/api/mail/m1/deal');
    expect(asked.request.body).toEqual({ version: 4, dealId: 'd2' });
    asked.flush(mail({ ...filed, dealId: 'd2', dealName: 'Boiler treatment' }));
    await part.settle();
    expect(document.body.textContent).toContain('Put with Boiler treatment.');
  });

  test('what a known person signs otherwise is shown, and taken over by one key', async () => {
    const differs = [
      { field: 'jobTitle', label: null, now: 'Baker', said: 'Head Baker' },
      { field: 'phone', label: 'mobile', now: null, said: '+447700900101' },
    ];
    const part = await show(filed, 'filed');
    await part.answer('/api/mail/m1/writer', writer({ differs }));
    expect(said(part.root)).toMatch(/job title ?Head Baker ?now Baker/);
    await press(part, 'k');
    expect(part.asked('/api/mail/m1/writer').request.body).toEqual({ contactVersion: 7, take: differs });
  });

  test('one key lets it go, and it can be undone', async () => {
    const part = await show({});
    await press(part, 'x');
    const asked = part.asked('/api/mail/m1/let-go');
    asked.flush(mail({ state: 'let-go', version: 5 }));
    await part.settle();
    const undo = [...document.querySelectorAll('button')].find((each) => each.textContent.includes('Undo'))!;
    await part.click(undo);
    const changeId = asked.request.headers.get('X-Change-Id')!;
    expect(part.asked(`/api/changes/${changeId}/undo`)).toBeTruthy();
  });

  test('a held one shows what is known and asks for a decision', async () => {
    const part = await show({ state: 'held', direction: 'out' }, 'held', {
      known: ['no answer to it has come'],
    });
    expect(said(part.root)).toContain('no answer to it has come');
    await part.click(part.button('It arrived'));
    expect(part.asked('/api/mail/m1/decide').request.body).toEqual({ version: 4, as: 'arrived' });
  });

  test('pictures from elsewhere are said, and what would run is not in the page', async () => {
    const part = await show({}, undefined, {
      html: '<b>Hello</b><script>window.x = 1</script>',
      blockedPictures: 2,
    });
    expect(said(part.root)).toContain('2 pictures from elsewhere not fetched');
    expect(part.root.querySelector('.body b')!.textContent).toBe('Hello');
    expect(part.root.querySelector('.body script')).toBeNull();
  });

  test('picked ones are dismissed in one go, told once, and undone as one; what had left the box is said', async () => {
    const part = await show({});
    await press(part, 'i');
    expect(said(part.root)).toContain('1 picked');
    await press(part, 'x');
    const asked = part.asked('/api/mail/move');
    expect(asked.request.body).toEqual({ to: 'let-go', ids: ['m1'] });
    asked.flush({ moved: 1, left: 2 });
    await part.settle();
    expect(document.body.textContent).toContain('1 mail dismissed; 2 had left the box meanwhile.');
    const undo = [...document.querySelectorAll('button')].find((each) => each.textContent.includes('Undo'))!;
    await part.click(undo);
    const changeId = asked.request.headers.get('X-Change-Id')!;
    expect(part.asked(`/api/changes/${changeId}/undo`)).toBeTruthy();
    expect(part.root.querySelector('.picked')).toBeNull();
  });

  test('picked ones are filed with one person', async () => {
    const dialog = await showPart(FilePickedDialog, {
      data: { ids: ['m1', 'm2'], words: '2 mails', changeId: 'c1' },
    });
    expect(said(dialog.root)).toContain('File 2 mails');
    dialog.shown['form'].controls.contactId.setValue('owen');
    await dialog.click(dialog.button('File'));
    const asked = dialog.asked('/api/mail/move');
    expect(asked.request.body).toEqual({ to: 'filed', ids: ['m1', 'm2'], contactId: 'owen' });
    expect(asked.request.headers.get('X-Change-Id')).toBe('c1');
  });

  test('in a box where nothing can be moved that is said of the picked ones', async () => {
    const part = await show({ state: 'filed' }, 'filed');
    await press(part, 'i');
    expect(said(part.root)).toContain('What is filed, sent or waiting stays where it is.');
  });

  test('a filter that leaves none offers to show all', async () => {
    const part = await showPart(MailPage, { inputs: { q: 'zzz' } });
    const asked = part.asked('/api/mail/count');
    expect(asked.request.params.get('q')).toBe('zzz');
    asked.flush({ ...aCount(0), counts });
    await part.answer('/api/mail', { rows: [] });
    await part.pass(50);
    expect(said(part.root)).toContain('The filter leaves none.');
  });

  test('nothing to file says what would be here', async () => {
    const part = await showPart(MailPage);
    await answerList(part, []);
    expect(said(part.root)).toContain('Mail from people you know files itself');
  });
});

describe('somebody new of a mail', () => {
  const found = {
    givenName: 'Noor',
    familyName: 'Falk',
    jobTitle: 'Head Baker',
    email: 'noor@falk.example',
    phone: '+441632960155',
    otherPoints: [{ kind: 'phone', label: 'mobile', value: '+447700900155' }],
    country: 'GB',
    companyName: 'Falk Bakery Ltd',
    street: '14 Mill Lane',
    postcode: 'MD4 2QP',
    city: 'Marrowdale',
    website: null,
    companies: [],
    like: [],
    differs: [],
    contactVersion: null,
  };
  const show = async (writer: object = found) => {
    const dialog = await showPart(TakeInDialog, {
      data: {
        mail: whole({ fromName: 'Noor Falk', fromAddress: 'noor@falk.example', subject: 'Two ovens' }),
      },
    });
    await dialog.answer('/api/mail/m1/writer', writer);
    return dialog;
  };
  const take = async (dialog: Part<TakeInDialog>, name: string) => {
    const button = [...dialog.root.querySelectorAll('button')].find((each) =>
      each.ariaLabel?.startsWith(name),
    )!;
    await dialog.click(button);
  };

  test('what the signature says stands beside the fields; one press takes one, the first button all', async () => {
    const dialog = await show();
    await take(dialog, 'Job title: take Head Baker');
    expect(dialog.shown['person'].jobTitle.value).toBe('Head Baker');
    expect(dialog.shown['person'].companyName.value).toBe('');
    expect(document.activeElement?.textContent).toContain('Take all');
    await dialog.click(document.activeElement as HTMLElement);
    expect(dialog.shown['person'].companyName.value).toBe('Falk Bakery Ltd');
    expect(
      [...dialog.root.querySelectorAll('button')].some((each) => each.ariaLabel?.includes(': take ')),
    ).toBe(false);
  });

  test('person, company and deal are sent at once with what comes next', async () => {
    const dialog = await show();
    await dialog.click(document.activeElement as HTMLElement);
    await dialog.click(dialog.button('person, company and deal'));
    dialog.shown['deal'].amountMinor.setValue(240_000);
    dialog.shown['deal'].stageId.setValue('s1');
    await dialog.click(dialog.button('Create deal'));
    const asked = dialog.asked('/api/mail/m1/take-in');
    expect(asked.request.body).toMatchObject({
      as: 'deal',
      version: 4,
      person: {
        givenName: 'Noor',
        jobTitle: 'Head Baker',
        companyName: 'Falk Bakery Ltd',
        phone: '+441632960155',
        otherPoints: found.otherPoints,
      },
      place: { street: '14 Mill Lane', website: null },
      deal: { name: 'Two ovens', amountMinor: 240_000 },
      task: { purpose: 'Answer: Two ovens', channel: 'email' },
    });
  });

  test('without a next step none is sent; a company known by the domain is taken by its id', async () => {
    const companies = [{ id: 'co1', name: 'Falk Bakery', city: null, why: 'others write from falk.example' }];
    const dialog = await show({ ...found, companies });
    expect(said(dialog.root)).toContain('others write from falk.example');
    await dialog.click(document.activeElement as HTMLElement);
    await dialog.click(dialog.button('the person'));
    await dialog.click(dialog.root.querySelector('mat-checkbox input')!);
    await dialog.click(dialog.button('Create person'));
    expect(dialog.asked('/api/mail/m1/take-in').request.body).toMatchObject({
      as: 'person',
      task: null,
      person: { companyName: 'Falk Bakery', companyId: 'co1' },
    });
  });

  const unsigned = {
    ...found,
    jobTitle: null,
    phone: null,
    otherPoints: [],
    companyName: null,
    street: null,
    postcode: null,
    city: null,
  };

  test('the name of the sender alone is no signature: it stands in the fields already', async () => {
    expect(said((await show(unsigned)).root)).toContain('no signature that could be read');
  });

  test('a mail without a signature says so, and what is refused is said at its field', async () => {
    const dialog = await show({ ...unsigned, givenName: null, familyName: null });
    expect(said(dialog.root)).toContain('no signature that could be read');
    await dialog.click(dialog.button('Create lead'));
    const fields = [{ path: 'person.email', message: 'must be an address' }];
    await dialog.refuse('/api/mail/m1/take-in', {
      status: 400,
      code: 'invalid-request',
      detail: 'Check.',
      fields,
    });
    expect(said(dialog.root)).toContain('must be an address');
  });
});

describe('stirrings', () => {
  const row = {
    id: 's1',
    at: '2026-11-24T08:50:00.000Z',
    kind: 'clicked',
    words: 'followed a link in “Hello”',
    times: 2,
    contactId: 'ines',
    contactName: 'Ines Prado',
    companyName: 'Cais',
    mailId: null,
    isHandled: false,
    version: 1,
  };

  test('say who, what and how often; a key says that it was looked at', async () => {
    const part = await showPart(StirringList);
    await part.answer('/api/stirrings', { rows: [row], open: 1 });
    expect(said(part.root)).toMatch(/Ines Prado ?Cais ?followed a link in “Hello” ?2 times/);
    await press(part, '.');
    expect(part.asked('/api/stirrings/s1/handle').request.body).toEqual({ version: 1, isHandled: true });
  });

  test('none yet', async () => {
    const part = await showPart(StirringList);
    await part.answer('/api/stirrings', { rows: [], open: 0 });
    expect(said(part.root)).toContain('is shown here at once');
  });
});

describe('writing', () => {
  const draft = (part: object = {}) => ({
    to: 'maud@penrow.example',
    blocked: null,
    templateId: null,
    subject: 'Water',
    body: 'Dear Maud',
    missing: [],
    templates: [{ id: 't', name: 'Hello' }],
    answers: null,
    ...part,
  });
  const step = {
    kind: 'task',
    channel: 'call',
    dueOn: '2026-11-27',
    promisedMinute: null,
    purpose: 'ask',
    minutes: 6,
  };
  const item = {
    contact: { id: 'maud', name: 'Maud Ellery' },
    deal: null,
    task: { id: 'task', version: 2 },
    hasOpenDeal: false,
    choices: [
      {
        outcome: { id: 'email-sent' },
        proposal: { step, why: 'no answer', words: 'call', on: '2026-11-27', channel: 'call' },
      },
    ],
  };
  const show = async (part: object = {}) => {
    const shown = await showPart(WriteDialog, {
      data: { channel: 'email', contactId: 'maud', name: 'Maud Ellery' },
    });
    await shown.answer('/api/mail/draft', draft(part));
    await shown.answer('/api/round/walk', item);
    return shown;
  };

  test('sends what was written with its next step, and finishes the task it was for', async () => {
    const part = await show();
    await part.type(part.field<HTMLTextAreaElement>(/^Text/), 'Dear Maud, two sentences.');
    await part.click(part.button(/^Send/));
    const asked = part.asked('/api/mail');
    expect(asked.request.body).toMatchObject({
      contactId: 'maud',
      subject: 'Water',
      body: 'Dear Maud, two sentences.',
      taskId: 'task',
      next: step,
    });
    asked.flush({ entryId: 'x', words: 'Call on Friday.', nextTaskId: null, nextOn: null });
    await part.settle();
    expect(part.closedWith).toHaveLength(1);
  });

  test('a fact that is not known is named; a refusal keeps every word', async () => {
    const part = await show({ body: 'It ends on {{ agreement.ends }}', missing: ['agreement.ends'] });
    expect(said(part.root)).toContain('Not known of them: agreement.ends');
    await part.click(part.button(/^Send/));
    await part.refuse('/api/mail', {
      status: 422,
      code: 'facts-missing',
      detail: 'The text asks for what is not known.',
    });
    expect(said(part.root)).toContain('The text asks for what is not known.');
    expect(part.field<HTMLTextAreaElement>(/^Text/).value).toContain('agreement.ends');
    expect(isUnavailable(part.button(/^Send/))).toBe(false);
  });

  test('who asked for no more cannot be sent to', async () => {
    const part = await show({ blocked: 'No e-mail: they asked' });
    expect(said(part.root)).toContain('No e-mail: they asked: nothing can be sent.');
    expect(isUnavailable(part.button(/^Send/))).toBe(true);
  });
});

describe('the telephone line', () => {
  const call = (part: object = {}) => ({
    id: 'c',
    contactId: 'maud',
    number: '+44 1632',
    state: 'dialling',
    result: null,
    startedAt: '2026-11-24T09:10:00.000Z',
    answeredAt: null,
    seconds: null,
    outcomeId: null,
    ...part,
  });

  test('follows a call to its end, and tells once how it ended', async () => {
    const part = await showPart(PhoneLine, { inputs: { contactId: 'maud', number: '+44 1632' } });
    const over: unknown[] = [];
    part.shown.over.subscribe((each) => over.push(each));
    await part.click(part.button(/Call/));
    const asked = part.asked('/api/calls');
    const { id } = asked.request.body as { id: string };
    asked.flush(call({ id }));
    await part.settle();
    await part.answer(`/api/calls/${id}`, call({ id, state: 'ringing' }));
    expect(said(part.root)).toContain('ringing +44 1632');
    await part.click(part.button('Hang up'));
    part.asked(`/api/calls/${id}/hang-up`).flush(call({ id }));
    await part.settle();
    await part.answer(`/api/calls/${id}`, call({ id, state: 'ended', result: 'answered', seconds: 185 }));
    expect(said(part.root)).toContain('spoken for 3:05');
    expect(over).toHaveLength(1);
  });

  test('without a line it says so, and offers the machine’s own', async () => {
    const part = await showPart(PhoneLine, { inputs: { contactId: 'maud', number: '+44 1632' } });
    await part.click(part.button(/Call/));
    await part.refuse('/api/calls', {
      status: 422,
      code: 'not-set-up',
      detail: 'No telephone line is set up.',
    });
    expect(said(part.root)).toContain('No telephone line is set up.');
    expect(part.root.querySelector('a')!.getAttribute('href')).toBe('tel:+44 1632');
  });
});

describe('templates', () => {
  const template = {
    id: 't',
    name: 'Hello',
    channel: 'email',
    subject: 'Water',
    body: 'Dear',
    isRetired: false,
    uses: 1,
    files: [],
    version: 3,
  };
  const all = {
    templates: [template],
    snippets: [],
    facts: [{ name: 'contact.name', words: 'their name', example: 'Ines' }],
    signature: '',
  };
  const show = async () => {
    const part = await showPart(TemplatesPage);
    await part.answer('/api/templates', all);
    await part.answer('/api/contacts', { rows: [{ id: 'maud' }] });
    return part;
  };

  test('a fact is put where the cursor stands, and the text is seen as it arrives', async () => {
    const part = await show();
    await part.choose('Put a fact into the text', /^Their name|name, such as/);
    expect(part.root.querySelector('textarea[rows="14"]')).toHaveProperty('value', 'Dear{{ contact.name }}');
    await part.pass(300);
    const asked = part.asked('/api/templates/fill');
    expect(asked.request.body).toMatchObject({ body: 'Dear{{ contact.name }}', contactId: 'maud' });
    asked.flush({ subject: 'Water', body: 'DearMaud', missing: ['deal.name'], wrong: [] });
    await part.settle();
    expect(said(part.root)).toContain('Not known of them: deal.name. It would not be sent.');
  });

  test('is saved over the version it was written over', async () => {
    const part = await show();
    await part.type(part.root.querySelector<HTMLTextAreaElement>('textarea[rows="14"]')!, 'Dear you');
    await part.click(part.button('Save'));
    expect(part.asked('/api/templates/t').request.body).toMatchObject({ body: 'Dear you', version: 3 });
  });
});
