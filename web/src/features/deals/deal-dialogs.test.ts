import { Component, inject } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatDialog } from '@angular/material/dialog';
import { of } from 'rxjs';
import { aDealRow } from '../../../testing/deals';
import { showPart } from '../../../testing/part';
import { Notices } from '../../services/notices';
import { DealDialogs } from './deal-dialogs';

@Component({ selector: 'kettle-test-host', template: '' })
class Host {
  readonly dialogs = inject(DealDialogs);
}

/** Shows a closing whose dialog is answered with `closed`; undefined is left without. */
async function close(closed: unknown) {
  const part = await showPart(Host);
  jest.spyOn(TestBed.inject(MatDialog), 'open').mockReturnValue({ afterClosed: () => of(closed) } as never);
  await part.shown.dialogs.close(aDealRow(), 'won');
  await part.settle();
  return part;
}
/** Takes back what the notice says, and waits until it is asked of the server. */
async function takeBack(part: Awaited<ReturnType<typeof close>>) {
  await TestBed.inject(Notices).undoLast();
  for (let turn = 0; turn < 50; turn += 1) {
    await part.pass(20);
    const [asked] = part.server.match((request) => request.url === '/api/deals/d1/undo-close');
    if (asked) return asked;
  }
  throw new Error('nothing was asked');
}
const notice = () => document.querySelector('.mat-mdc-snack-bar-container')?.textContent ?? '';
afterEach(() => document.querySelectorAll('.cdk-overlay-container').forEach((each) => each.remove()));

test('a closing is said, and undone', async () => {
  const part = await close(aDealRow({ status: 'won', version: 5 }));
  expect(notice()).toContain('Hotel Linde: softener is won.');
  const asked = await takeBack(part);
  asked.flush(aDealRow({ version: 6 }));
  await part.settle();
  expect(document.body.textContent).toContain('Hotel Linde: softener is open as before.');
});

test('what can no longer be undone says why', async () => {
  const part = await close(aDealRow({ status: 'won', version: 5 }));
  const body = { code: 'cannot-undo', detail: 'This can no longer be undone, because it was changed since.' };
  (await takeBack(part)).flush(
    { type: '', title: '', status: 409, requestId: '', ...body },
    { status: 409, statusText: 'refused' },
  );
  await part.settle();
  expect(document.body.textContent).toContain('because it was changed since');
});

test('a dialog that was left says nothing, and there is nothing to undo', async () => {
  const part = await close(undefined);
  expect(notice()).toBe('');
  await TestBed.inject(Notices).undoLast();
  await part.pass(20);
  part.server.expectNone('/api/deals/d1/undo-close');
});
