import { randomUUID } from 'node:crypto';
import { install } from '../../../testing/installation';
import { aContact } from '../../../testing/people';
import { bytesOf } from '../../platform/ids';
import { work } from '../../platform/work/work';
import { readSignedIn } from '../../records/users/index';

test('a change in parts that met one record several times is undone to what was before the first', async () => {
  const installation = await install();
  const rep = await installation.as('rep');
  const contact = await aContact(rep, { jobTitle: 'first' });
  const { services, clock } = installation;
  const who = await readSignedIn(services.database, rep.id, services.clock.now());
  const name = (title: string, parentId?: string) =>
    work(services, who, async (w) => {
      if (parentId !== undefined) w.partOf(parentId, title);
      await w.change('UPDATE contact SET job_title = :title, version = version + 1 WHERE id = :id', {
        id: bytesOf(contact.id),
        title,
      });
      return w.id;
    });
  const whole = await name('second');
  for (const title of ['third', 'fourth']) {
    clock.set(new Date(clock.millis() + 1000).toISOString());
    await name(title, whole);
  }
  await rep.ok('undoChange', { params: { id: whole }, changeId: randomUUID() });
  const now = await rep.ok('getContact', { params: { id: contact.id } });
  expect(now.jobTitle).toBe('first');
  await installation.close();
});
