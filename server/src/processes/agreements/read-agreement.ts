import type { AgreementDetail, DealId } from '@kettle/contract';
import { chainOn, noticeEffect, termAfter } from '@kettle/core/agreements';
import { localDate } from '@kettle/core/time';
import type { Row } from '../../platform/database/schema.generated';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { readPerson } from '../../records/users/index';
import { readAgreements } from './agreement-rows';
import { readLines } from './lines';
import { readChains } from './read-chain';
import { readRisks } from './risk';

type DealName = Row<'deal', 'id' | 'name' | 'status'>;

/** Everything about one agreement. @throws Problem `not-found` */
export async function readDetail(services: Services, id: string): Promise<AgreementDetail> {
  const { database: db, clock, calendars, settings } = services;
  const [agreement] = await readAgreements(db, [bytesOf(id)]);
  const [chain] = await readChains(db, [id]);
  if (agreement === undefined || chain === undefined) throw new Problem('not-found');
  const { organisation } = await settings.read(db);
  const owner = await readPerson(db, agreement.ownerId);
  const calendar = calendars.of({ ...owner, absences: [] }, organisation);
  const today = localDate(clock.now(), owner.zone);
  const key = { id: bytesOf(id) };
  const [[more], changes, lines, dealRows] = await Promise.all([
    db.rows<Row<'agreement', 'end_words' | 'deal_id'> & { signer_name: string | null }>(
      `SELECT a.end_words, a.deal_id, s.display_name AS signer_name FROM agreement a LEFT JOIN contact s ON s.id = a.signer_id
        WHERE a.id = :id`,
      key,
    ),
    db.rows<Row<'agreement_change', 'on_day' | 'value_minor' | 'words'> & { user_name: string }>(
      `SELECT c.on_day, c.value_minor, c.words, u.name AS user_name FROM agreement_change c JOIN app_user u ON u.id = c.user_id
        WHERE c.agreement_id = :id ORDER BY c.on_day`,
      key,
    ),
    readLines(db, id),
    db.rows<DealName>(
      `SELECT d.id, d.name, d.status FROM deal d
        WHERE d.id = (SELECT deal_id FROM agreement WHERE id = :id)
           OR d.id IN (SELECT deal_id FROM agreement_term WHERE agreement_id = :id)
           OR d.id IN (SELECT renewal_deal_id FROM agreement_term WHERE agreement_id = :id)`,
      key,
    ),
  ]);
  const deals = new Map(dealRows.map((row) => [row.id.toString('hex'), row]));
  const dealOf = (dealId: string | null) => {
    const found = dealId === null ? undefined : deals.get(dealId.replaceAll('-', ''));
    return found === undefined ? null : { id: dealId as DealId, name: found.name, status: found.status };
  };
  const day = chainOn(chain, today, calendar);
  const isOpen = day.decision === 'open';
  const next = isOpen ? termAfter(chain) : null;
  const origin = more?.deal_id ?? null;
  return {
    agreement,
    endWords: more?.end_words ?? '',
    signerName: more?.signer_name ?? null,
    deal: origin === null ? null : dealOf(chain.terms[0]!.dealId),
    terms: chain.terms.map(({ n, dealId, renewalDealId, ...term }) => ({
      ...term,
      number: n + 1,
      deal: dealOf(dealId),
      renewalDeal: dealOf(renewalDealId),
    })),
    changes: changes.map((change) => ({
      on: change.on_day,
      valueMinor: wholeNumber(change.value_minor),
      words: change.words,
      userName: change.user_name,
    })),
    lines,
    next:
      next === null ? null : { startsOn: next.startsOn, endsOn: next.endsOn, valueMinor: next.valueMinor },
    noticeToday: noticeEffect(chain, today, calendar),
    risk: isOpen ? ((await readRisks(db, [id], today)).get(id) ?? null) : null,
  };
}
