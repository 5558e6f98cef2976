import type { JotReading } from '@kettle/contract';
import type { JotSetting } from './jot';
import { nameKey } from '../duplicates';
import { readPhone } from '../phone';

const beginning = /^\s*(?:new\s+)?(?:lead|inquiry|enquiry)\b\s*:?\s*(?:from\s+)?/i;
const number = /\+?\d[\d\s()/-]{6,}\d/;
const address = /[^\s,;<>()]+@[^\s,;<>()]+\.[^\s,;<>()]+/;

/**
 * A line that begins with "lead" or "inquiry" is a new lead: the name, the firm after "of" or "at", how they are reached, what
 * they want. What else is asked for is read as in any line. Null when the line begins otherwise.
 * @example 'lead: Nora Pell of Pell Spa, nora@pell.example, wants a softener, call tomorrow'
 */
export function readLead(
  line: string,
  setting: JotSetting,
  readLine: (line: string, setting: JotSetting) => JotReading,
): JotReading | null {
  const begins = beginning.exec(line);
  if (begins === null) return null;
  const email = address.exec(line)?.[0] ?? null;
  const digits = number.exec(line)?.[0] ?? '';
  const phone = readPhone(digits, setting.country ?? 'GB')?.e164 ?? null;
  const tags = [...line.matchAll(/(?<!\S)#([\p{L}\d-]{1,40})/gu)].map((match) => match[1]!.toLowerCase());
  const source = /(?:^|[,;]\s*)source:?\s+([^,;]+)/i.exec(line)?.[1]?.trim() ?? null;
  let text = line
    .slice(begins[0].length)
    .replace(/(?<!\S)#[\p{L}\d-]{1,40}/gu, '')
    .replace(/(?:^|[,;]\s*)source:?\s+[^,;]+/i, '');
  if (email !== null) text = text.replace(email, '');
  if (phone !== null) text = text.replace(digits, '');
  const parts = text
    .split(/[,;]\s*/)
    .map((part) => part.trim())
    .filter(Boolean);
  const [who = '', ...rest] = parts;
  const named = /^(.*?)\s+(?:of|at|from)\s+(.+)$/i.exec(who);
  const name = (named?.[1] ?? who).trim();
  // What is planned next is read from the rest of the line, with the name in front so that it is known whom it is about.
  const further = readLine([name, ...rest].join(', '), { ...setting, about: null });
  // A given name alone may be anybody's: only the whole name means somebody known.
  const person =
    further.person !== null && nameKey(further.person.name) === nameKey(name) ? further.person : null;
  const wants = rest.filter(
    (part) => readLine(`${name}, ${part}`, { ...setting, about: null }).task === null,
  );
  const subject = wants.join(', ').replace(/^(?:wants|needs|asks\s+for|asks\s+about|about)\s+/i, '');
  return {
    ...further,
    act: name === '' ? 'nothing' : 'lead',
    channel: further.task?.channel ?? null,
    outcomeId: null,
    outcomeWords: null,
    happened: null,
    body: '',
    tags,
    source,
    person,
    unknownName: person === null ? name || null : null,
    questions: further.questions.filter(({ about }) => about !== 'person'),
    lead: {
      subject: subject || 'inquiry',
      companyName: named?.[2]?.trim() ?? null,
      email,
      phone,
    },
  };
}
