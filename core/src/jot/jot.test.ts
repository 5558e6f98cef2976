import type { ContactId, JotReading } from '@kettle/contract';
import fc from 'fast-check';
import { defaultOutcomes } from '../touch';
import { type KnownPerson, readJot } from '.';

const person = (
  id: string,
  givenName: string,
  familyName: string,
  companyName: string | null = null,
  isMine = false,
): KnownPerson => ({ id: id as ContactId, givenName, familyName, companyName, isMine });

const known = [
  person('maud', 'Maud', 'Ellery', 'Penrow Laundry'),
  person('theo', 'Theo', 'Quillan', 'Skell Bakery'),
  person('ines', 'Inês', 'Carvalho', 'Lavandaria Ribeira'),
  person('joost', 'Joost', 'van der Meer', 'Brouwerij De Kolk'),
  person('may', 'May', 'Winters', 'Fold Hotel'),
  person('anne1', 'Anne', 'Garth', 'Garth Brewing'),
  person('anne2', 'Anne', 'Sorrell', 'Sorrell Clinic'),
  person('rory1', 'Rory', 'Birk', 'Birk Car Wash', true),
  person('rory2', 'Rory', 'Tallis', 'Tallis Inn'),
];

/** A Tuesday, ten past nine in London. */
const setting = {
  now: '2026-11-24T09:10:00.000Z',
  zone: 'Europe/London',
  known,
  outcomes: defaultOutcomes,
  about: null,
  answers: {},
};

interface Expected {
  who?: string | null;
  outcome?: string | null;
  happened?: string;
  task?: string | null;
  body?: string;
  unknown?: string;
  asks?: string;
  act?: JotReading['act'];
}

/** `call 2026-11-26 10:00 purpose` */
function sayTask(task: JotReading['task']): string | null {
  if (task === null) return null;
  const time =
    task.minute === null
      ? ''
      : ` ${String(Math.floor(task.minute / 60)).padStart(2, '0')}:${String(task.minute % 60).padStart(2, '0')}`;
  return `${task.channel} ${task.on}${time} ${task.purpose}`;
}

test.each<[string, Expected]>([
  // What happened
  ['spoke to Maud Ellery', { who: 'maud', outcome: 'call-spoke', task: null, body: '' }],
  ['Spoke with Maud, wants price', { who: 'maud', outcome: 'call-spoke', body: 'wants price' }],
  [
    'talked to theo quillan about the second softener',
    { who: 'theo', outcome: 'call-spoke', body: 'the second softener' },
  ],
  ['called Maud Ellery, no answer', { who: 'maud', outcome: 'call-no-answer' }],
  ['no answer from Theo', { who: 'theo', outcome: 'call-no-answer' }],
  ['Theo did not pick up', { who: 'theo', outcome: 'call-no-answer' }],
  ['Theo didn’t answer', { who: 'theo', outcome: 'call-no-answer' }],
  ['tried calling Maud', { who: 'maud', outcome: 'call-no-answer' }],
  ['left a message for Maud Ellery', { who: 'maud', outcome: 'call-voicemail' }],
  ['voicemail Theo', { who: 'theo', outcome: 'call-voicemail' }],
  ['Maud: line engaged', { who: 'maud', outcome: 'call-busy' }],
  ['wrong number for May Winters', { who: 'may', outcome: 'call-wrong-number' }],
  ['Joost van der Meer not interested', { who: 'joost', outcome: 'call-not-interested' }],
  ['Theo asked me to call later, in the spring', { who: 'theo', outcome: 'call-later' }],
  ['Maud Ellery rang me about the filter', { who: 'maud', outcome: 'call-came-in', body: 'the filter' }],
  ['emailed Ines Carvalho the offer', { who: 'ines', outcome: 'email-sent', body: 'the offer' }],
  ['sent the quote to Maud', { who: 'maud', outcome: 'email-sent' }],
  ['wrote to Theo Quillan', { who: 'theo', outcome: 'email-sent' }],
  [
    'Theo replied, happy with the terms',
    { who: 'theo', outcome: 'email-came-in', body: 'happy with the terms' },
  ],
  ['got an email from Joost', { who: 'joost', outcome: 'email-came-in' }],
  ['mail to Maud bounced', { who: 'maud', outcome: 'email-bounced' }],
  ['texted Theo the address', { who: 'theo', outcome: 'text-sent', body: 'the address' }],
  ['Theo texted me', { who: 'theo', outcome: 'text-came-in' }],
  ['met Ines Carvalho, showed the offer', { who: 'ines', outcome: 'meeting-held', body: 'showed the offer' }],
  ['had coffee with Maud', { who: 'maud', outcome: 'meeting-held' }],
  ['Joost missed the meeting', { who: 'joost', outcome: 'meeting-missed' }],
  ['meeting called off by May Winters', { who: 'may', outcome: 'meeting-called-off' }],
  ['visited Theo at Skell Bakery', { who: 'theo', outcome: 'visit-held' }],
  ['dropped in on Maud', { who: 'maud', outcome: 'visit-held' }],
  ['went round to Theo, nobody there', { who: 'theo', outcome: 'visit-nobody' }],
  // When it happened
  ['spoke to Maud yesterday', { who: 'maud', outcome: 'call-spoke', happened: '2026-11-23 -' }],
  ['spoke to Maud yesterday at 15:30', { outcome: 'call-spoke', happened: '2026-11-23 930' }],
  ['met Theo last friday', { outcome: 'meeting-held', happened: '2026-11-20 -' }],
  ['visited Maud on 19 November', { outcome: 'visit-held', happened: '2026-11-19 -' }],
  // What is to be done
  ['call Maud thursday 10', { who: 'maud', task: 'call 2026-11-26 10:00 follow up', act: 'task' }],
  ['ring Theo tomorrow about the survey', { who: 'theo', task: 'call 2026-11-25 the survey' }],
  ['email Ines on friday', { who: 'ines', task: 'email 2026-11-27 follow up' }],
  ['send Maud the price list tomorrow', { who: 'maud', task: 'email 2026-11-25 the price list' }],
  ['visit Theo 3 december at 2pm', { who: 'theo', task: 'visit 2026-12-03 14:00 follow up' }],
  ['meet Joost in two weeks', { who: 'joost', task: 'meeting 2026-12-08 follow up' }],
  ['text Maud in 3 days', { who: 'maud', task: 'text 2026-11-27 follow up' }],
  ['call Theo at 3', { who: 'theo', task: 'call 2026-11-24 15:00 follow up' }],
  ['call Theo today 16:15', { who: 'theo', task: 'call 2026-11-24 16:15 follow up' }],
  ['call Theo at 8', { who: 'theo', task: 'call 2026-11-25 08:00 follow up' }],
  ['chase Maud for the signature on monday', { who: 'maud', task: 'call 2026-11-30 the signature' }],
  ['check with Ines tomorrow', { who: 'ines', task: 'call 2026-11-25 follow up' }],
  ['remind me to order salt for Theo on wednesday', { who: 'theo', task: 'other 2026-11-25 order salt' }],
  ['call Maud', { who: 'maud', task: 'call 2026-11-24 follow up' }],
  // Both
  [
    'spoke to Maud Ellery, wants price, call thursday 10',
    { who: 'maud', outcome: 'call-spoke', body: 'wants price', task: 'call 2026-11-26 10:00 follow up' },
  ],
  [
    'left a message for Theo, try again tomorrow',
    { who: 'theo', outcome: 'call-voicemail', task: 'call 2026-11-25 follow up' },
  ],
  [
    'left a message for Theo and call again tomorrow',
    { who: 'theo', outcome: 'call-voicemail', task: 'call 2026-11-25 follow up' },
  ],
  [
    'spoke to Theo. Survey agreed. Visit friday 9:30',
    { who: 'theo', outcome: 'call-spoke', body: 'Survey agreed', task: 'visit 2026-11-27 09:30 follow up' },
  ],
  [
    'emailed Maud the offer then ring her next monday',
    { who: 'maud', outcome: 'email-sent', asks: 'date:next monday' },
  ],
  [
    'spoke to Maud yesterday, friday 11',
    { who: 'maud', happened: '2026-11-23 -', task: 'call 2026-11-27 11:00 follow up' },
  ],
  [
    'met May Winters; send the contract tomorrow',
    { who: 'may', outcome: 'meeting-held', task: 'email 2026-11-25 the contract' },
  ],
  [
    'no answer from Maud, email her tomorrow',
    { who: 'maud', outcome: 'call-no-answer', task: 'email 2026-11-25 follow up' },
  ],
  // Notes
  ['note: Maud prefers mornings', { who: 'maud', act: 'note', body: 'Maud prefers mornings' }],
  ['Theo has a new boiler', { who: 'theo', act: 'note', body: 'Theo has a new boiler' }],
  // Questions
  ['spoke to Anne', { who: null, asks: 'person', outcome: 'call-spoke' }],
  ['spoke to Anne at Garth Brewing', { who: 'anne1', outcome: 'call-spoke' }],
  ['spoke to Anne Sorrell', { who: 'anne2' }],
  ['spoke to Rory', { who: 'rory1' }],
  ['call Maud 5/6', { who: 'maud', task: 'call 2027-06-05 follow up' }],
  ['call Maud 25/12', { who: 'maud', task: 'call 2026-12-25 follow up' }],
  ['call Maud on tuesday', { who: 'maud', asks: 'date:on tuesday' }],
  ['call Maud next thursday', { who: 'maud', asks: 'date:next thursday' }],
  ['call Maud tomorrow at 7', { who: 'maud', asks: 'time:tomorrow at 7' }],
  // Names
  ['spoke to Mode Elery', { who: null, unknown: 'Mode Elery', outcome: 'call-spoke' }],
  ['spoke to Theo Quilan', { who: 'theo' }],
  ['spoke to Agatha Ellery', { who: null, unknown: 'Agatha Ellery' }],
  ['spoke to Maud Prior', { who: null, unknown: 'Maud Prior' }],
  ['Visited Ellery on Monday', { who: 'maud', outcome: 'visit-held', happened: '2026-11-23 -' }],
  ['spoke to Agatha Moss, wants a brochure', { who: null, unknown: 'Agatha Moss', body: 'wants a brochure' }],
  ['call Agatha Moss tomorrow', { who: null, unknown: 'Agatha Moss', task: 'call 2026-11-25 follow up' }],
  ['May Winters wants a visit in may', { who: 'may' }],
  ['INÊS CARVALHO rang me', { who: 'ines', outcome: 'call-came-in' }],
  ['spoke to Theo’s partner', { who: 'theo', outcome: 'call-spoke' }],
  // Nothing
  ['', { act: 'nothing', who: null }],
  ['   ', { act: 'nothing' }],
])('%s', (line, expected) => {
  const read = readJot(line, setting);
  if (expected.who !== undefined) expect(read.person?.id ?? null).toBe(expected.who);
  if (expected.outcome !== undefined) expect(read.outcomeId).toBe(expected.outcome);
  if (expected.happened !== undefined)
    expect(`${read.happened?.on} ${read.happened?.minute ?? '-'}`).toBe(expected.happened);
  if (expected.task !== undefined) expect(sayTask(read.task)).toBe(expected.task);
  if (expected.body !== undefined) expect(read.body).toBe(expected.body);
  if (expected.unknown !== undefined) expect(read.unknownName).toBe(expected.unknown);
  if (expected.act !== undefined) expect(read.act).toBe(expected.act);
  expect(read.questions.map((question) => question.about)).toEqual(expected.asks ? [expected.asks] : []);
});

test('an answer settles a question', () => {
  const thursday = readJot('call Maud next thursday', setting).questions[0]!;
  expect(thursday.choices.map((choice) => choice.value)).toEqual(['2026-11-26', '2026-12-03']);
  const answered = readJot('call Maud next thursday', {
    ...setting,
    answers: { [thursday.about]: '2026-12-03' },
  });
  expect(sayTask(answered.task)).toBe('call 2026-12-03 follow up');
  expect(answered.questions).toEqual([]);
  expect(readJot('spoke to Anne', { ...setting, answers: { person: 'anne2' } }).person?.id).toBe('anne2');
});

test('the open person is meant when the line names nobody', () => {
  expect(readJot('left a message', { ...setting, about: known[0]! }).person?.id).toBe('maud');
  expect(readJot('spoke to Theo', { ...setting, about: known[0]! }).person?.id).toBe('theo');
});

test('any line at all is read without a fault, and nothing planned lies in the past', () => {
  const words = fc.constantFrom(
    'call',
    'spoke to',
    'Maud',
    'Anne',
    'thursday',
    '10',
    '5/6',
    'yesterday',
    'next',
    ',',
    'at 7',
    'note:',
    'and',
    'the price',
    '31/2',
    '99:99',
    '–',
  );
  fc.assert(
    fc.property(fc.array(fc.oneof(words, fc.string({ maxLength: 6 })), { maxLength: 9 }), (parts) => {
      const read = readJot(parts.join(' '), setting);
      if (read.task !== null) expect(read.task.on >= '2026-11-24').toBe(true);
      if (read.act === 'log') expect(read.outcomeId).not.toBeNull();
    }),
    { numRuns: 300 },
  );
});

test('answers to what was asked are what is read', () => {
  const answered = (line: string, answers: Record<string, string>) => readJot(line, { ...setting, answers });
  expect(answered('called Maud', { what: 'call-no-answer' })).toMatchObject({
    act: 'log',
    outcomeId: 'call-no-answer',
    questions: [],
  });
  expect(answered('got hold of Maud, wants salt', { what: 'call-spoke' })).toMatchObject({
    act: 'log',
    outcomeId: 'call-spoke',
    body: 'got hold of Maud, wants salt',
    questions: [],
  });
  expect(answered('got hold of Maud', { what: 'note' })).toMatchObject({ act: 'note', questions: [] });
});

test('day and month are read in the order of the country', () => {
  const on = (country: string) => readJot('call Maud 1/12', { ...setting, country }).task?.on;
  expect([on('GB'), on('US')]).toEqual(['2026-12-01', '2027-01-12']);
});

test('a note keeps what was written, whatever it holds', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 80 }), (text) => {
      fc.pre(text.trim() !== '');
      expect(readJot(`note: ${text.trim()}`, setting).body).toBe(text.trim());
    }),
  );
});

test('of several deals of that name theirs is meant, or it is asked which', () => {
  const deals = [
    { id: 'd1', name: 'Penrow: softener', contactId: 'maud', companyName: null },
    { id: 'd2', name: 'Skell: softener', contactId: 'theo', companyName: null },
  ] as never;
  const deal = (line: string, answers = {}) => readJot(line, { ...setting, deals, answers });
  expect(deal('spoke to Theo about the softener deal').deal?.id).toBe('d2');
  expect(deal('won the softener deal')).toMatchObject({
    act: 'closing',
    deal: null,
    questions: [{ about: 'deal' }],
  });
  expect(deal('won the softener deal', { deal: 'd1' })).toMatchObject({ deal: { id: 'd1' }, questions: [] });
});

test.each<[string, string, string | null, number | null]>([
  [
    'meet Maud 3 December 14:00 at Penrow Laundry, Mill Lane',
    'meeting 2026-12-03 14:00 follow up',
    'Penrow Laundry, Mill Lane',
    null,
  ],
  ['meeting with Maud tomorrow at 10 at the yard', 'meeting 2026-11-25 10:00 follow up', 'the yard', null],
  [
    'visit Theo thursday 2pm at Mill Lane 3, Dunmere for 90 min',
    'visit 2026-11-26 14:00 follow up',
    'Mill Lane 3, Dunmere',
    90,
  ],
  [
    'visit Theo thursday 2pm at the bakery to measure the prover',
    'visit 2026-11-26 14:00 measure the prover',
    'the bakery',
    null,
  ],
  ['meet Maud tomorrow at noon', 'meeting 2026-11-25 12:00 follow up', null, null],
  // Without a time nobody is met anywhere yet, and a call has no place.
  ['visit Theo thursday at the yard', 'visit 2026-11-26 at the yard', null, null],
  ['call Maud tomorrow 10:00 at the yard', 'call 2026-11-25 10:00 at the yard', null, null],
])('where they meet: %s', (line, task, place, minutes) => {
  const read = readJot(line, setting);
  expect([sayTask(read.task), read.task!.place, read.minutes, read.body]).toEqual([task, place, minutes, '']);
});
