import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Subject } from 'rxjs';
import { Api, type ApiProblem } from './api';
import { reading } from './reading';

let api: Api;
let server: HttpTestingController;
beforeEach(() => {
  TestBed.configureTestingModule({
    providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting()],
  });
  api = TestBed.inject(Api);
  server = TestBed.inject(HttpTestingController);
});
afterEach(() => server.verify());

describe('calling a route', () => {
  test('fills path and query from the table, and leaves out what is not said', () => {
    api.call('deferTask', { params: { id: 'a b' }, body: { version: 1, dueOn: '2026-11-30' } }).subscribe();
    expect(server.expectOne('/api/tasks/a%20b/defer').request).toMatchObject({
      method: 'POST',
      body: { version: 1, dueOn: '2026-11-30' },
    });
    api.call('listContacts', { query: { q: 'maud', standing: undefined, filter: '' } }).subscribe();
    expect(server.expectOne((request) => request.url === '/api/contacts').request.params.toString()).toBe(
      'q=maud',
    );
  });

  test('a refusal becomes its sentence with its fields', () => {
    let problem: ApiProblem | undefined;
    api
      .call('signIn', { body: { email: 'x', password: 'y' } })
      .subscribe({ error: (error: ApiProblem) => (problem = error) });
    const details = {
      code: 'invalid-request',
      detail: 'Check the marked fields.',
      fields: [{ path: 'email', message: 'must be an address' }],
    };
    server.expectOne('/api/session').flush(details, { status: 400, statusText: 'Bad Request' });
    expect([problem?.code, problem?.message, problem?.of('email'), problem?.of('password')]).toEqual([
      'invalid-request',
      'Check the marked fields.',
      'must be an address',
      null,
    ]);
  });

  test('a change asked for twice while it is on its way is one change', () => {
    const task = {
      contactId: 'c1',
      channel: 'call',
      purpose: 'ask',
      dueOn: '2026-11-30',
      minutes: 5,
    } as never;
    const made: unknown[] = [];
    api.call('createTask', { body: task }).subscribe((reply) => made.push(reply));
    api.call('createTask', { body: task }).subscribe((reply) => made.push(reply));
    server.expectOne('/api/tasks').flush({ id: 't1' });
    expect(made).toMatchObject([{ id: 't1' }, { id: 't1' }]);
    api.call('createTask', { body: task }).subscribe();
    server.expectOne('/api/tasks');
  });

  test('a change that nobody answered is sent under its id when it is asked for again; one that was refused is not', () => {
    const ids: (string | null)[] = [];
    const ask = (end: (request: ReturnType<typeof server.expectOne>) => void) => {
      api.call('claimContact', { params: { id: 'c1' } }).subscribe({ error: () => undefined });
      const request = server.expectOne('/api/contacts/c1/claim');
      ids.push(request.request.headers.get('X-Change-Id'));
      end(request);
    };
    ask((request) => request.error(new ProgressEvent('offline')));
    ask((request) =>
      request.flush({ code: 'already-claimed', detail: 'Taken.' }, { status: 409, statusText: 'Conflict' }),
    );
    ask((request) => request.flush({}));
    expect(ids[0]).toMatch(/^[0-9a-f-]{36}$/);
    expect(ids[1]).toBe(ids[0]);
    expect(ids[2]).not.toBe(ids[1]);
  });

  test('a change is never sent again by itself; a reading is, while nobody answers', async () => {
    jest.useFakeTimers();
    let words = '';
    api.call('signOut').subscribe({ error: (error: ApiProblem) => (words = error.message) });
    server.expectOne('/api/session').error(new ProgressEvent('offline'));
    expect(words).toContain('What you typed is kept');
    let name = '';
    api.call('session').subscribe((session) => (name = session.person.name));
    server.expectOne('/api/session').error(new ProgressEvent('offline'));
    await jest.advanceTimersByTimeAsync(500);
    server.expectOne('/api/session').flush({
      person: { name: 'Imogen', hours: { weekdays: [1, 2, 3, 4, 5], start: 540, end: 1020 } },
    });
    expect(name).toBe('Imogen');
    jest.useRealTimers();
  });
});

test('what was read with a tag is asked for by it, and shown again where it still stands', () => {
  const seen: unknown[] = [];
  const read = (q: string) => {
    api.call('listContacts', { query: { q } }).subscribe((reply) => seen.push(reply));
    return server.expectOne((request) => request.params.get('q') === q);
  };
  const knows = (asked: ReturnType<typeof read>) => asked.request.headers.get('If-None-Match');
  const first = read('maud');
  expect(knows(first)).toBeNull();
  first.flush({ rows: [] }, { headers: { ETag: '"one"' } });
  const again = read('maud');
  expect(knows(again)).toBe('"one"');
  again.flush(null, { status: 304, statusText: 'Not Modified' });
  read('maud').flush({ rows: [] }, { headers: { ETag: '"two"' } });
  expect(knows(read('maud'))).toBe('"two"');
  expect(seen[1]).toBe(seen[0]);
  expect(seen[2]).not.toBe(seen[0]);
  // Another question has another answer.
  expect(knows(read('owen'))).toBeNull();
});

test('what a played server answers is held against the contract: left out is filled in, unknown or wrong is refused', () => {
  let reply: unknown;
  api.call('search', { query: { q: 'salt' } }).subscribe((found) => (reply = found));
  const asked = server.expectOne(({ url }) => url === '/api/search');
  const answer = (hit: object) => () => asked.flush({ hits: [{ kind: 'contact', id: 'maud', ...hit }] });
  expect(answer({ at: '2026-11-24' })).toThrow('search.hits.0 has no at in the contract');
  expect(answer({ title: 7 })).toThrow('no reply of search');
  answer({ title: 'Maud Salt' })();
  expect(reply).toEqual({ hits: [{ kind: 'contact', id: 'maud', title: 'Maud Salt', words: 'x' }] });
});

describe('a reading', () => {
  const make = () => {
    const answers: Subject<string>[] = [];
    const value = TestBed.runInInjectionContext(() =>
      reading((_: number) => {
        const answer = new Subject<string>();
        answers.push(answer);
        return answer;
      }),
    );
    return { value, answers };
  };

  test('shows the value from before while a newer one is on its way, and when that fails', () => {
    const { value, answers } = make();
    value.read(1);
    expect(value.state().kind).toBe('loading');
    answers[0]!.next('one');
    expect(value.state()).toEqual({ kind: 'ready', value: 'one' });
    value.again();
    expect([value.state().kind, value.value()]).toEqual(['loading', 'one']);
    answers[1]!.error(new Error('away'));
    expect([value.state().kind, value.value()]).toEqual(['failed', 'one']);
  });

  test('drops the answer to a question that was asked before the last one', () => {
    const { value, answers } = make();
    value.read(1);
    value.read(2);
    answers[0]!.next('late');
    answers[1]!.next('right');
    expect(value.value()).toBe('right');
  });
});
