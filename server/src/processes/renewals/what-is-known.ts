import type { AgreementRow } from '@kettle/contract';
import { sayCount } from '@kettle/core/locale';
import { sayMoney } from '@kettle/core/money';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf } from '../../platform/ids';
import { readAgreements, readRisks } from '../agreements/index';

const conversationsShown = 3;

/**
 * What a talk about a renewal needs, one line each: what they bought and for how much, since when, who decides, the last conversations, open
 * complaints, letters nobody answered, and how likely they leave.
 */
export async function sayWhatIsKnown(
  db: Queryable,
  agreementIds: readonly string[],
  today: string,
): Promise<string[]> {
  const agreements = await readAgreements(
    db,
    agreementIds.map((id) => bytesOf(id)),
  );
  const risks = await readRisks(db, agreementIds, today);
  const lines: string[] = [];
  for (const agreement of agreements) lines.push(...(await sayAgreement(db, agreement)));
  const [first] = agreements;
  if (first === undefined) return lines;
  lines.push(await sayWhoDecides(db, first));
  lines.push(...(await sayConversations(db, first)));
  for (const agreement of agreements) {
    const risk = risks.get(agreement.id);
    if (risk === undefined) continue;
    const why = risk.factors.map(({ words }) => words).join('; ');
    const percent = Math.round(100 * risk.chance);
    lines.push(
      why === ''
        ? $localize`Chance that they leave: ${percent}:percent: %.`
        : $localize`Chance that they leave: ${percent}:percent: % (${why}:why:).`,
    );
  }
  return lines;
}

async function sayAgreement(db: Queryable, agreement: AgreementRow): Promise<string[]> {
  const { id, name, valueMinor, currency, termMonths, startsOn, endsOn, noticeDeadlineOn, termNumber } =
    agreement;
  const money = sayMoney(valueMinor, currency);
  const bought = await db.rows<Row<'agreement_line', 'name' | 'quantity'>>(
    'SELECT name, quantity FROM agreement_line WHERE agreement_id = :id ORDER BY position, id',
    { id: bytesOf(id) },
  );
  const what = bought.map((line) => `${Number(line.quantity)} × ${line.name}`).join(', ');
  return [
    $localize`${name}:name:: ${money}:money: for ${sayCount(termMonths, $localize`month|months`)}:months:, with us since ${startsOn}:startsOn: (term ${termNumber}:number:).`,
    ...(what === '' ? [] : [$localize`They have: ${what}:what:.`]),
    $localize`The term ends on ${endsOn}:endsOn:; notice until ${noticeDeadlineOn}:deadline:.`,
  ];
}

const ofCustomer = '(x.contact_id = :contact OR :company IS NOT NULL AND x.company_id = :company)';
const customerOf = ({ contactId, companyId }: AgreementRow) => ({
  contact: bytesOf(contactId),
  company: bytesOf(companyId),
});

async function sayWhoDecides(db: Queryable, agreement: AgreementRow): Promise<string> {
  const rows = await db.rows<{ name: string }>(
    `SELECT DISTINCT c.display_name AS name FROM deal_person p JOIN deal x ON x.id = p.deal_id JOIN contact c ON c.id = p.contact_id
      WHERE p.role = 'decides' AND ${ofCustomer} ORDER BY name LIMIT 5`,
    customerOf(agreement),
  );
  const names = rows.map(({ name }) => name).join(', ');
  return names === '' ? $localize`Who decides is not known.` : $localize`Who decides: ${names}:names:.`;
}

async function sayConversations(db: Queryable, agreement: AgreementRow): Promise<string[]> {
  const spoken = await db.rows<Row<'journal_entry', 'at' | 'kind' | 'body'>>(
    `SELECT x.at, x.kind, x.body FROM journal_entry x
      WHERE x.counts = 'conversation' AND x.removed_at IS NULL AND ${ofCustomer} ORDER BY x.at DESC, x.id DESC LIMIT ${conversationsShown}`,
    customerOf(agreement),
  );
  const [open] = await db.rows<{ unanswered: string; complaints: string }>(
    `SELECT COALESCE(SUM(c.waiting_since IS NOT NULL), 0) AS unanswered,
            COALESCE(SUM(EXISTS (SELECT 1 FROM contact_tag t WHERE t.contact_id = c.id AND t.tag = 'complaint')), 0) AS complaints
       FROM contact c WHERE c.id = :contact OR :company IS NOT NULL AND c.company_id = :company`,
    customerOf(agreement),
  );
  const said = spoken.map(({ at, kind, body }) => {
    const text = body.replace(/\s+/g, ' ').trim().slice(0, 160);
    return text === '' ? `${at.slice(0, 10)}, ${kind}` : `${at.slice(0, 10)}, ${kind}: ${text}`;
  });
  return [
    said.length === 0
      ? $localize`No conversation yet.`
      : $localize`Last conversations:\n${said.map((line) => `– ${line}`).join('\n')}:lines:`,
    ...(Number(open?.unanswered) > 0 ? [$localize`A letter of theirs waits for an answer.`] : []),
    ...(Number(open?.complaints) > 0 ? [$localize`A complaint of theirs is open.`] : []),
  ];
}
