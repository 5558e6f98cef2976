import type { ApiKey, Hook } from '@kettle/contract';
import { showPart } from '../../../testing/part';
import { ApiKeysPart } from './api-keys-part';
import { HooksPart } from './hooks-part';

Element.prototype.scrollIntoView = () => undefined;
const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();

const aKey = (part: object = {}): ApiKey =>
  ({
    ...{ id: 'k1', name: 'Stock room', userId: 'u1', owner: 'Imogen Thorne', start: 'kettle_ab12' },
    ...{ scopes: ['people:read', 'deals:write'], madeAt: '2026-11-24T09:00:00.000Z' },
    ...{ lastOn: null, usedAt: null, state: 'counts' },
    ...part,
  }) as ApiKey;

describe('my API keys', () => {
  const show = async (keys: readonly ApiKey[]) => {
    const part = await showPart(ApiKeysPart);
    await part.answer('/api/api-keys', { keys });
    return part;
  };

  test('a key says what it may do and when it was used; those that count no more are shown when asked for', async () => {
    const part = await show([
      aKey(),
      aKey({ id: 'k2', name: 'Ledger', state: 'over', lastOn: '2026-10-01' }),
    ]);
    expect(said(part.root)).toContain(
      'People and companies: read. Leads, deals and agreements: read and change.',
    );
    expect(said(part.root)).toContain('Never used.');
    expect(said(part.root)).not.toContain('Ledger');
    await part.click(part.button('Show 1 that no longer count'));
    expect(said(part.root)).toContain('Ledger');
  });

  test('one is made with what was chosen, said once, and gone when it was kept', async () => {
    const part = await show([]);
    await part.type(part.field('What it is for'), 'Stock room');
    await part.type(part.field('Your password'), 'my own password');
    await part.choose('Leads, deals and agreements', 'read and change');
    await part.click(part.button('Make the key'));
    const asked = part.asked('/api/api-keys');
    expect(asked.request.body).toEqual({
      ...{ name: 'Stock room', lastOn: null, password: 'my own password', scopes: ['deals:write'] },
    });
    asked.flush({ key: aKey(), token: 'kettle_ab12rest' });
    await part.settle();
    await part.answer('/api/api-keys', { keys: [aKey()] });
    expect(part.field('The new key').value).toBe('kettle_ab12rest');
    expect(part.field('Your password').value).toBe('');
    await part.click(part.button('I have kept it'));
    expect(() => part.field('The new key')).toThrow('no field');
  });

  test('what is refused keeps what was typed and says what it may not be without', async () => {
    const part = await show([]);
    await part.type(part.field('What it is for'), 'Stock room');
    await part.type(part.field('Your password'), 'my own password');
    await part.click(part.button('Make the key'));
    await part.refuse('/api/api-keys', {
      ...{ status: 400, code: 'invalid-request', detail: 'Check the marked fields.' },
      fields: [{ path: 'scopes', message: 'needs at least one thing it may do' }],
    });
    expect(said(part.root)).toContain('What it may do: needs at least one thing it may do');
    expect(part.field('What it is for').value).toBe('Stock room');
  });

  test('it is withdrawn after it was asked whether that is meant', async () => {
    const part = await show([aKey()]);
    await part.click(part.button('Withdraw Stock room'));
    expect(said(part.root)).toContain('Programs that use it stop at once, for good.');
    await part.click(part.button('Keep it'));
    await part.click(part.button('Withdraw Stock room'));
    await part.click(part.button('Withdraw it'));
    expect((await part.answer('/api/api-keys/k1', aKey({ state: 'withdrawn' }))).request.method).toBe(
      'DELETE',
    );
    await part.answer('/api/api-keys', { keys: [aKey({ state: 'withdrawn' })] });
    expect(document.body.textContent).toContain('Stock room is withdrawn');
  });
});

const aHook = (part: object = {}): Hook =>
  ({
    ...{ id: 'h1', name: 'Stock room', url: 'https://stock.example/told', events: ['deal.moved'] },
    ...{ isOn: true, off: null, triedAt: '2026-11-24T09:00:00.000Z', failingSince: null, failure: null },
    ...{ waiting: 0, formerUntil: null, version: 1 },
    ...part,
  }) as Hook;

describe('web hooks', () => {
  const show = async (hooks: readonly Hook[]) => {
    const part = await showPart(HooksPart);
    await part.answer('/api/hooks', { hooks });
    return part;
  };

  test('each says how it goes: told, failing, switched off, what waits', async () => {
    const part = await show([
      aHook(),
      aHook({ id: 'h2', failingSince: '2026-11-24T08:00:00.000Z', failure: 'It answered 500.', waiting: 3 }),
      aHook({ id: 'h3', isOn: false, off: 'gone' }),
    ]);
    const [told, failing, gone] = [...part.root.querySelectorAll('li')].map(said);
    expect(told).toContain('Told when a deal went to another stage.');
    expect(told).toContain('Last told');
    expect(failing).toContain('It answered 500. It fails since');
    expect(failing).toContain('3 messages wait');
    expect(gone).toContain('the address says that it is gone for good');
  });

  test('one is added with what is ticked; its secret is said once, and it is undone', async () => {
    const part = await show([]);
    await part.type(part.field('What to call it'), 'Stock room');
    await part.type(part.field('Its address'), 'https://stock.example/told');
    await part.click(part.field('a deal went to another stage'));
    await part.click(part.button('Tell it'));
    const asked = part.asked('/api/hooks');
    expect(asked.request.body).toEqual({
      ...{ name: 'Stock room', url: 'https://stock.example/told', events: ['deal.moved'] },
    });
    asked.flush({ hook: aHook({ failure: 'It answered 503.' }), secret: 'whsec_abc' });
    await part.settle();
    await part.answer('/api/hooks', { hooks: [aHook()] });
    expect(part.field('The secret of Stock room').value).toBe('whsec_abc');
    expect(document.body.textContent).toContain('Tried just now: It answered 503.');
    (await part.undoOf(asked)).flush({});
    await part.settle();
    await part.answer('/api/hooks', { hooks: [] });
    expect(said(part.root)).toContain('None yet.');
  });

  test('nothing ticked is said where the ticks are', async () => {
    const part = await show([]);
    await part.type(part.field('What to call it'), 'Stock room');
    await part.type(part.field('Its address'), 'https://stock.example/told');
    await part.click(part.button('Tell it'));
    await part.refuse('/api/hooks', {
      ...{ status: 400, code: 'invalid-request', detail: 'Check the marked fields.' },
      fields: [{ path: 'events', message: 'needs at least one thing to tell' }],
    });
    expect(said(part.root)).toContain('Told when: needs at least one thing to tell');
    expect(part.field('Its address').value).toBe('https://stock.example/told');
  });

  test('it is tried, switched off, changed and removed', async () => {
    const part = await show([aHook()]);
    await part.click(part.button('Try Stock room now'));
    await part.answer('/api/hooks/h1/try', { hook: aHook(), status: 204, failure: null });
    await part.answer('/api/hooks', { hooks: [aHook()] });
    expect(document.body.textContent).toContain('Stock room took it.');
    await part.click(part.field('is told'));
    const off = part.asked('/api/hooks/h1');
    expect(off.request.body).toMatchObject({ isOn: false, version: 1 });
    off.flush(aHook({ isOn: false, version: 2 }));
    await part.settle();
    await part.answer('/api/hooks', { hooks: [aHook({ isOn: false, version: 2 })] });
    await part.click(part.button('Change Stock room'));
    await part.type(part.field('What to call it'), 'Warehouse');
    await part.click(part.button('Save'));
    const saved = part.asked('/api/hooks/h1');
    expect(saved.request.body).toMatchObject({ name: 'Warehouse', isOn: false, version: 2 });
    saved.flush(aHook({ name: 'Warehouse', version: 3 }));
    await part.settle();
    await part.answer('/api/hooks', { hooks: [aHook({ name: 'Warehouse', version: 3 })] });
    await part.click(part.button('Remove Warehouse'));
    const gone = part.asked('/api/hooks/h1');
    expect(gone.request.method).toBe('DELETE');
    gone.flush({ ok: true });
    await part.settle();
    await part.answer('/api/hooks', { hooks: [] });
  });

  test('what it was told is listed with what came of it, and sent again', async () => {
    const part = await show([aHook()]);
    await part.click(part.button('What Stock room was told'));
    const call = {
      ...{ eventId: 'e1', messageId: 'msg_e1', type: 'deal.moved', madeAt: '2026-11-24T09:00:00.000Z' },
      ...{
        state: 'given-up',
        tries: 10,
        status: 500,
        failure: 'It answered 500.',
        triedAt: null,
        nextAt: null,
      },
    };
    await part.answer('/api/hooks/h1/calls', { calls: [call], isCut: false });
    expect(said(part.root)).toContain('given up, tried 10 times. It answered 500.');
    await part.click(part.button('Send deal.moved again'));
    await part.answer('/api/hooks/h1/calls/e1/again', { ok: true });
    await part.answer('/api/hooks/h1/calls', {
      calls: [{ ...call, state: 'sent', status: 204 }],
      isCut: false,
    });
    expect(said(part.root)).toContain('taken, answered 204');
  });
});
