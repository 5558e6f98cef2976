import { Component, inject } from '@angular/core';
import { showPart } from '../../testing/part';
import { Api } from '../api/api';
import { Notices } from './notices';
import { Undo } from './undo';

@Component({ selector: 'kettle-test-host', template: '' })
class Host {
  readonly api = inject(Api);
  readonly notices = inject(Notices);
  readonly undo = inject(Undo);
}

/** Changes a deal and says so with a way back, as every page does. */
function change(host: Host, id: string) {
  host.api
    .call(
      'moveDeal',
      { params: { id }, body: { version: 1, stageId: 's', expectedCloseOn: null } },
      `of-${id}`,
    )
    .subscribe({
      next: () => host.undo.offer(`${id} is moved.`, `of-${id}`),
      error: (error: unknown) => host.notices.problem(error),
    });
}
afterEach(() => document.querySelectorAll('.cdk-overlay-container').forEach((each) => each.remove()));

test('the key right after the answer undoes what was answered, though its line is not on screen yet', async () => {
  const part = await showPart(Host);
  change(part.shown, 'd1');
  await part.answer('/api/deals/d1/move', {});
  change(part.shown, 'd2');
  part.asked('/api/deals/d2/move').flush({});
  void part.shown.notices.undoLast();
  await part.settle();
  await part.pass(20);
  part.asked('/api/changes/of-d2/undo').flush({});
  part.server.verify();
});

test('the key undoes what is still on its way, not what was done before it', async () => {
  const part = await showPart(Host);
  change(part.shown, 'd1');
  await part.answer('/api/deals/d1/move', {});
  change(part.shown, 'd2');
  const asked = part.asked('/api/deals/d2/move');
  void part.shown.notices.undoLast();
  await part.pass(20);
  part.server.expectNone((request) => request.url.endsWith('/undo'));
  asked.flush({});
  await part.pass(20);
  part.asked('/api/changes/of-d2/undo').flush({});
  part.server.verify();
});

test('what was refused leaves nothing to undo by the key: what stands before it was not the last act', async () => {
  const part = await showPart(Host);
  change(part.shown, 'd1');
  await part.answer('/api/deals/d1/move', {});
  change(part.shown, 'd2');
  void part.shown.notices.undoLast();
  await part.refuse('/api/deals/d2/move', { status: 409, code: 'stale', detail: 'Changed meanwhile.' });
  await part.pass(20);
  expect(document.body.textContent).toContain('Changed meanwhile.');
  part.server.verify();
});
