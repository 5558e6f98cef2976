import { isUnavailable, showPart } from '../../../testing/part';
import { PersonalDataDialog } from './personal-data-dialog';
import { PersonalDataPart } from './personal-data-part';

const said = (root: HTMLElement) => root.textContent.replace(/\s+/g, ' ');
const held = {
  name: 'Maud Ellery',
  version: 7,
  held: [{ table: 'mail', words: 'mail, in and out', count: 3 }],
  kept: [{ words: '1 deal without the name', why: 'a business record' }],
  mentions: [
    {
      entryId: 'e1',
      contactId: 'c2',
      contactName: 'Ines Prado',
      at: '2026-11-20T09:00:00.000Z',
      opening: 'Maud decides',
    },
  ],
};

describe('what is held of a person', () => {
  const show = async () => {
    const part = await showPart(PersonalDataDialog, { data: 'c1', role: 'admin' });
    await part.answer('/api/contacts/c1/personal-data', held);
    return part;
  };

  test('is counted, with what stays and who else names them, and can be saved in two ways', async () => {
    const { root } = await show();
    expect(said(root)).toContain('3 mail, in and out');
    expect(said(root)).toContain('1 deal without the name: a business record');
    expect(said(root)).toContain('Ines Prado');
    expect([...root.querySelectorAll('a[download]')].map((link) => link.getAttribute('href'))).toEqual([
      '/api/contacts/c1/personal-data/file?as=readable',
      '/api/contacts/c1/personal-data/file?as=json',
    ]);
  });

  test('is erased only once the name is typed as it is, over what was seen', async () => {
    const part = await show();
    await part.click(part.button(/^Erase …/));
    await part.type(part.field(/^Type the name/), 'Maud');
    expect(isUnavailable(part.button('Erase for good'))).toBe(true);
    await part.type(part.field(/^Type the name/), 'Maud Ellery');
    await part.click(part.button('Erase for good'));
    const asked = part.asked('/api/contacts/c1/erase');
    expect(asked.request.body).toEqual({ version: 7, name: 'Maud Ellery' });
    asked.flush({ words: 'What was held of them is erased.' });
    await part.settle();
    expect(part.closedWith).toEqual([true]);
  });

  test('that was changed meanwhile says so, and nothing typed is lost', async () => {
    const part = await show();
    await part.click(part.button(/^Erase …/));
    await part.type(part.field(/^Type the name/), 'Maud Ellery');
    await part.click(part.button('Erase for good'));
    await part.refuse('/api/contacts/c1/erase', {
      status: 409,
      code: 'stale',
      detail: 'Somebody changed this',
    });
    expect(said(part.root)).toContain('Somebody changed this');
    expect(part.field(/^Type the name/).value).toBe('Maud Ellery');
  });
});

test('an empty field keeps a kind; the tables are listed by whose data lies in them', async () => {
  const part = await showPart(PersonalDataPart, { role: 'admin' });
  const stored = {
    ...{ version: 2, letGoMail: 365, rawMail: 180, removed: 365, unknownCalls: 180, notifications: 180 },
    ...{ setAsideLeads: null, securityLog: 400 },
  };
  await part.answer('/api/retention-settings', stored);
  await part.answer('/api/data-places', {
    places: [
      { table: 'mail', words: 'mail', of: 'both', keptFor: 'with the record', erasing: 'deleted' },
      { table: 'setting', words: 'settings', of: 'nobody', keptFor: '', erasing: 'not touched' },
    ],
  });
  expect(said(part.root)).toContain('Of customers and of colleagues');
  expect(said(part.root)).not.toContain('Of colleagues what');
  await part.type(part.field(/^Mail that was dismissed/), '');
  await part.type(part.field(/^Mail as it arrived/), '90');
  await part.click(part.button('Save'));
  expect(part.asked('/api/retention-settings').request.body).toEqual({
    ...stored,
    letGoMail: null,
    rawMail: 90,
  });
});
