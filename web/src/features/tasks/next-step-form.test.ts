import { provideZonelessChangeDetection } from '@angular/core';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import type { NextStep, Proposal } from '@kettle/contract';
import { ApiProblem } from '../../api/api';
import { CurrentUser } from '../../services/current-user';
import { NextStepForm } from './next-step-form';

const task: NextStep = {
  kind: 'task',
  channel: 'call',
  dueOn: '2026-11-27',
  promisedMinute: null,
  purpose: 'ask',
  minutes: 6,
};
const proposal: Proposal = {
  step: task,
  channel: 'call',
  on: '2026-11-27',
  words: 'Call: ask',
  why: 'three working days keep it warm',
};
const person = {
  id: 'x',
  name: 'I',
  email: 'i@x.example',
  role: 'rep',
  zone: 'Europe/London',
  country: 'GB',
  hours: { weekdays: [1], start: 540, end: 1000 },
  version: 1,
};

let fixture: ComponentFixture<NextStepForm>;
let changes: NextStep[];
function show(draft: NextStep, inputs: Record<string, unknown> = {}): HTMLElement {
  TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
  TestBed.inject(CurrentUser).enter({ person, now: '2026-11-24T09:10:00.000Z', currency: 'GBP' } as never);
  fixture = TestBed.createComponent(NextStepForm);
  changes = [];
  fixture.componentInstance.changed.subscribe((next) => changes.push(next));
  for (const [name, value] of Object.entries({ proposal, draft, ...inputs }))
    fixture.componentRef.setInput(name, value);
  fixture.detectChanges();
  return fixture.nativeElement as HTMLElement;
}

const button = (root: HTMLElement, words: string) =>
  [...root.querySelectorAll('button')].find((each) => each.textContent?.includes(words));

test('the proposal is filled in with its day in words and its reason', async () => {
  const root = show(task);
  await fixture.whenStable();
  expect(root.textContent).toContain('three working days keep it warm');
  expect(root.textContent).toContain('in 3 days · Fri 27 Nov');
  fixture.detectChanges();
  await fixture.whenStable();
  const day = root.querySelector<HTMLInputElement>('kettle-day-field input')!;
  expect([day.value, day.getAttribute('min')]).toEqual(['Fri 27 Nov 2026', '2026-11-24T00:00:00.000Z']);
});

test('a promised time becomes a minute of the day, and emptied it is none', async () => {
  const root = show(task);
  await fixture.whenStable();
  const time = root.querySelector<HTMLInputElement>('kettle-time-field input')!;
  time.value = '14:30';
  time.dispatchEvent(new Event('input'));
  time.value = '';
  time.dispatchEvent(new Event('input'));
  expect(changes.map((next) => next.kind === 'task' && next.promisedMinute)).toEqual([870, null]);
});

test('no next step asks why, and says when a deal makes the reason necessary', () => {
  const root = show({ kind: 'none', reason: '' }, { needsReason: true });
  expect(root.textContent).toContain('No next step, because (a deal is open)');
  button(root, 'as proposed')!.click();
  expect(changes).toEqual([task]);
});

test('what the server refuses stands at its field', () => {
  const problem = new ApiProblem('reason-needed', 'A deal is open.', [
    { path: 'next.reason', message: 'say why there is none' },
  ]);
  expect(show({ kind: 'none', reason: '' }, { problem }).querySelector('mat-error')?.textContent).toBe(
    'say why there is none',
  );
});

test('a cadence that goes on can be given another day', () => {
  const goesOn: Proposal = { ...proposal, step: { kind: 'run' }, words: 'After the water test, step 2 of 6' };
  const root = show({ kind: 'run' }, { proposal: goesOn });
  expect(root.textContent).toContain('After the water test, step 2 of 6');
  button(root, 'set a day myself')!.click();
  expect(changes).toMatchObject([{ kind: 'task', channel: 'call', dueOn: '2026-11-27' }]);
});

test('on a small screen the proposal is one line until it is to be changed', () => {
  const root = show({ ...task, promisedMinute: 605 }, { folds: true });
  expect(root.querySelector('.folded')!.textContent!.replace(/\s+/g, ' ')).toContain(
    'Call Fri 27 Nov at 10:05 · ask',
  );
  expect(root.querySelector('kettle-day-field')).toBeNull();
  button(root, 'Change')!.click();
  fixture.detectChanges();
  expect(root.querySelector('kettle-day-field')).not.toBeNull();
});

test('what is wrong with it is never folded away', () => {
  const problem = new ApiProblem('invalid-request', 'Check it.', [
    { path: 'next.dueOn', message: 'must be a day ahead' },
  ]);
  const root = show(task, { folds: true, problem });
  expect(root.querySelector('.folded')).toBeNull();
  expect(root.textContent).toContain('must be a day ahead');
});
