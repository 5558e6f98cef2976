import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { install, type Caller, type Installation } from '../../../testing/installation';
import { aContact, aLead } from '../../../testing/people';
import { loadLanguages } from './language';

/** A language made for it: every text of the catalogues in brackets. */
const folder = mkdtempSync(path.join(tmpdir(), 'kettle-texts-'));
let installation: Installation;
let rep: Caller;

beforeAll(async () => {
  const catalogues = path.join(import.meta.dirname, '../../../../web/texts/en');
  const english = Object.fromEntries(
    readdirSync(catalogues).flatMap((name) =>
      Object.entries(JSON.parse(readFileSync(path.join(catalogues, name), 'utf8')) as Record<string, string>),
    ),
  );
  const inBrackets = Object.entries(english).map(([id, text]) => [
    id,
    text
      .split('|')
      .map((form) => `⟦${form}⟧`)
      .join('|'),
  ]);
  mkdirSync(path.join(folder, 'texts'));
  writeFileSync(path.join(folder, 'texts', 'en.json'), JSON.stringify(english));
  writeFileSync(path.join(folder, 'texts', 'de.json'), JSON.stringify(Object.fromEntries(inBrackets)));
  loadLanguages(folder);
  installation = await install();
  rep = await installation.as('rep');
});
afterAll(async () => {
  rmSync(folder, { recursive: true });
  // Without a folder of texts there is English alone.
  loadLanguages(folder);
  await installation.close();
});

test('a refusal is said in the language of whoever asks, its sentence and each field', async () => {
  const body = { contactId: 'x', channel: 'call', purpose: '', dueOn: '2026-11-30', minutes: 900 };
  const { status, body: refused } = await rep.call('createTask', { body, language: 'de' });
  expect(status).toBe(400);
  expect(refused.detail).toBe('⟦Something in what was sent is not right. Check the marked fields.⟧');
  expect(
    Object.fromEntries(
      refused.fields.map((each: { path: string; message: string }) => [each.path, each.message]),
    ),
  ).toMatchObject({
    purpose: '⟦must not be empty⟧',
    minutes: '⟦must be at most 480⟧',
  });
  const english = await rep.call('createTask', { body, language: 'fr, en' });
  expect(english.body.detail).toBe('Something in what was sent is not right. Check the marked fields.');
});

test('what belongs into a sentence is said in it too', async () => {
  const lead = await aLead(rep);
  const { body } = await rep.call('unqualifyLead', { params: { id: lead.id }, language: 'de' });
  expect(body.detail).toBe('⟦This can no longer be undone: ⟦it is not qualified⟧.⟧');
});

test('why a row stands in the Round is said in the reader’s language, from the same facts', async () => {
  const { id: contactId } = await aContact(rep);
  const dueOn = installation.clock.now().slice(0, 10);
  await rep.ok('createTask', { body: { contactId, channel: 'call', purpose: 'ask', dueOn, minutes: 6 } });
  const reasons = async (language: string) => {
    const { body } = await rep.call('round', { query: {}, language });
    return (body.above as { contactId: string; reasons: { words: string }[] }[])
      .filter((row) => row.contactId === contactId)
      .flatMap((row) => row.reasons.map(({ words }) => words));
  };
  const [said, english] = [await reasons('de'), await reasons('en')];
  expect(english.length).toBeGreaterThan(0);
  expect(said.map((words) => words.replace(/[⟦⟧]/g, ''))).toEqual(english);
  expect(said.every((words) => words.startsWith('⟦'))).toBe(true);
});
