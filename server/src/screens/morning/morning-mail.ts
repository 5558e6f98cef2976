import type { PlainDate, RoundRow, UserId } from '@kettle/contract';
import { sayMoney } from '@kettle/core/money';
import { addDays, localMinute, sayDate, sayMinute } from '@kettle/core/time';
import type { Services } from '../../platform/services';
import { readBlocks } from '../../activity/calendar/index';
import { readPerson } from '../../records/users/index';
import { readRoundOf } from '../round/index';

const rowsShown = 5;

/** What a day brings, as a mail: appointments, the first rows of the Round, what is late, waits or closes. */
export async function writeMorningMail(
  services: Services,
  userId: UserId,
  on: PlainDate,
): Promise<{ readonly subject: string; readonly text: string }> {
  const { database, settings, channels } = services;
  const person = await readPerson(database, userId);
  const [{ organisation }, round, blocks] = await Promise.all([
    settings.read(database),
    readRoundOf(services, userId, { limit: 1000 }),
    readBlocks(database, userId, { from: on, to: addDays(on, 1), zone: person.zone }),
  ]);
  const { above, below, header, counts } = round;
  const rows = [...above, ...below];
  const of = (kind: RoundRow['kind']) => rows.filter((row) => row.kind === kind).length;
  const day = sayDate(on, on);
  const lines = [
    $localize`Good morning ${person.name.split(' ')[0]!}:name:,`,
    '',
    day,
    ...blocks.map(({ startsAt, endsAt, title, place }) =>
      [`${timeOf(startsAt, person.zone)}–${timeOf(endsAt, person.zone)} ${title}`, place]
        .filter(Boolean)
        .join(', '),
    ),
    ...(blocks.length === 0 ? [$localize`No appointment.`] : []),
    '',
    $localize`First in the Round:`,
    ...rows.slice(0, rowsShown).map((row, at) => lineOf(row, at + 1, organisation.currency)),
    ...(rows.length === 0 ? [$localize`Nothing waits for you.`] : []),
    '',
    $localize`${counts.all}:all: in the Round, ${above.length + round.more}:above: of them fit into ${header.freeMinutes}:minutes: free minutes.`,
    $localize`Late: ${counts.late}:late:. Replies waiting: ${of('reply')}:replies:. Renewals at their time: ${of('renewal')}:renewals:.`,
    '',
    `${channels.publicOrigin}/round`,
  ];
  return {
    subject: $localize`${day}:day:: ${counts.all}:all: to do, ${header.freeMinutes}:minutes: minutes free`,
    text: lines.join('\n'),
  };
}

const timeOf = (at: string, zone: string) => sayMinute(localMinute(at, zone));

function lineOf(row: RoundRow, rank: number, currency: string): string {
  const reasons = row.reasons.map(({ words }) => words).join(', ');
  const who = [row.contactName, row.companyName].filter(Boolean).join(', ');
  return `${rank}. ${who}: ${row.purpose} (${reasons}) · ${sayMoney(row.arithmetic.costMinor, currency)}`;
}
