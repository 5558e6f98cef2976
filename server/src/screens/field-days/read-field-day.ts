import type {
  FieldDay,
  fieldDayQuery,
  FieldStop,
  NamedPoint,
  PlainDate,
  Round,
  UserId,
} from '@kettle/contract';
import { hoursOf } from '@kettle/core/calendar';
import { type Point, type Trip, tripOf } from '@kettle/core/route';
import { addDays, addMinutes, localMinute, localMoment } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row, SqlInstant } from '../../platform/database/schema.generated';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readBlocks } from '../../activity/calendar/index';
import { readPerson } from '../../records/users/index';
import { readRoundOf } from '../round/index';
import { addressColumns, addressJoins, addressOf, type AddressColumns } from './addresses';
import { orderDay } from './order-day';

/** More are not a day. */
const mostStops = 25;
const mostNear = 200;
/** Of these one would go by somebody's door. */
const nearKinds = new Set(['quiet', 'renewal', 'lead']);

interface StopRow extends AddressColumns, Row<'task', 'id' | 'purpose' | 'minutes' | 'version'> {
  promised_at: SqlInstant | null;
  contact_id: Row<'contact', 'id'>['id'] | null;
  display_name: string | null;
  company_name: string | null;
  country: string | null;
  zone: string | null;
  appointment_id: Row<'appointment', 'id'>['id'] | null;
}

/** A day on the road of somebody: what is visited, in which order best, and who is near. */
export async function readFieldDay(
  services: Services,
  query: z.output<typeof fieldDayQuery> & { readonly on: PlainDate; readonly ownerId: UserId },
): Promise<FieldDay> {
  const { database, settings: stored, calendars } = services;
  const { on, ownerId } = query;
  const [person, settings, home] = await Promise.all([
    readPerson(database, ownerId),
    stored.read(database),
    readStart(database, ownerId),
  ]);
  const { office, version: _, ...roads } = settings.roads;
  const minuteOf = (at: string) => localMinute(at, person.zone);
  const own = hoursOf(on, calendars.of(person, settings.organisation));
  const theirs = (country: string | null, zone: string | null): FieldStop['opens'] => {
    if (country === null || zone === null) return null;
    const open = hoursOf(on, calendars.of({ country, zone }, settings.organisation));
    return open === null ? [] : [{ from: minuteOf(open.start), to: minuteOf(open.end) }];
  };
  const rows = await readVisits(database, ownerId, { on, zone: person.zone });
  const stops = rows.map((row): FieldStop => ({
    key: `task:${idOf(row.id)}`,
    taskId: idOf(row.id),
    taskVersion: row.version,
    appointmentId: idOrNull(row.appointment_id),
    contactId: idOrNull(row.contact_id),
    name: row.display_name ?? row.purpose,
    companyName: row.company_name,
    purpose: row.purpose,
    minutes: row.minutes,
    promisedAt: row.promised_at === null ? null : minuteOf(instantOf(row.promised_at)),
    address: addressOf(row),
    opens: theirs(row.country, row.zone),
  }));
  const blocks = await readBlocks(database, ownerId, { from: on, to: addDays(on, 1), zone: person.zone });
  const busy = blocks
    .filter(({ hasTask }) => !hasTask)
    .map(({ startsAt, endsAt, title, travelMinutes, travelAfterMinutes }) => ({
      from: minuteOf(addMinutes(startsAt, -travelMinutes)),
      to: minuteOf(addMinutes(endsAt, travelAfterMinutes)),
      title,
    }));
  const hours = own && { from: minuteOf(own.start), to: minuteOf(own.end) };
  const day = { home, office, roads, hours, stops, busy };
  const order = await orderDay(services, outingOf(day, query));
  return {
    ...day,
    on,
    ownerId,
    zone: person.zone,
    best: order.map((at) => stops[at]!.key),
    near: await readNear(services, ownerId, new Set(stops.flatMap(({ contactId }) => contactId ?? []))),
  };
}

type Day = Pick<FieldDay, 'home' | 'office' | 'roads' | 'hours' | 'stops' | 'busy'>;

const usualStart = 540;

/** The trip of a day, from where it begins to where it ends. */
function outingOf(day: Day, { from, to }: Pick<z.output<typeof fieldDayQuery>, 'from' | 'to'>): Trip {
  const end = (asked: 'home' | 'office' | undefined): Point | null =>
    asked === undefined ? (day.home ?? day.office) : day[asked];
  return tripOf({
    from: end(from),
    to: end(to),
    stops: day.stops.map((stop) => ({ ...stop, point: stop.address?.known?.point ?? null })),
    roads: day.roads,
    leavesAt: day.hours?.from ?? usualStart,
    busy: day.busy,
  });
}

/** Open visits of the day, and meetings that have a place: those at their times first. */
function readVisits(
  db: Queryable,
  ownerId: UserId,
  { on, zone }: { readonly on: PlainDate; readonly zone: string },
): Promise<StopRow[]> {
  return db.rows<StopRow>(
    `SELECT t.id, t.purpose, t.minutes, t.version, t.promised_at, c.id AS contact_id, c.display_name,
            COALESCE(o.name, c.company_name) AS company_name, c.country, c.zone, a.id AS appointment_id, ${addressColumns}
       FROM task t LEFT JOIN appointment a ON a.task_id = t.id
       LEFT JOIN deal d ON d.id = t.deal_id
       LEFT JOIN contact c ON c.id = COALESCE(t.contact_id, d.contact_id) ${addressJoins}
      WHERE t.owner_id = :owner AND t.state = 'open' AND NOT t.is_automatic
        AND (t.channel = 'visit' OR (t.channel = 'meeting' AND a.place IS NOT NULL))
        AND IF(t.promised_at IS NULL, t.due_on = :on, t.promised_at >= :from AND t.promised_at < :to)
      ORDER BY t.promised_at IS NULL, t.promised_at, t.id LIMIT ${mostStops}`,
    {
      owner: bytesOf(ownerId),
      on,
      from: sqlInstant(localMoment(on, 0, zone)),
      to: sqlInstant(localMoment(addDays(on, 1), 0, zone)),
    },
  );
}

async function readStart(db: Queryable, ownerId: UserId): Promise<NamedPoint | null> {
  const [row] = await db.rows<Row<'app_user', 'start_words' | 'start_latitude' | 'start_longitude'>>(
    'SELECT start_words, start_latitude, start_longitude FROM app_user WHERE id = :id',
    { id: bytesOf(ownerId) },
  );
  if (!row || row.start_words === null || row.start_latitude === null || row.start_longitude === null)
    return null;
  return {
    words: row.start_words,
    latitude: Number(row.start_latitude),
    longitude: Number(row.start_longitude),
  };
}

/** People in today's Round whom one could see on the way: quiet ones, leads, agreements near their deadline; the dearest first. */
async function readNear(
  services: Services,
  ownerId: UserId,
  without: ReadonlySet<string>,
): Promise<FieldDay['near']> {
  const round = await readRoundOf(services, ownerId, { limit: 1000 });
  const rows = [...round.above, ...round.below].filter(
    (row): row is Round['above'][number] & { contactId: NonNullable<Round['above'][number]['contactId']> } =>
      nearKinds.has(row.kind) && row.contactId !== null && !without.has(row.contactId),
  );
  if (rows.length === 0) return [];
  const { round: reckoned } = await services.settings.read(services.database);
  const found = await services.database.rows<AddressColumns & { contact_id: Row<'contact', 'id'>['id'] }>(
    `SELECT c.id AS contact_id, ${addressColumns} FROM contact c ${addressJoins} WHERE c.id IN (:ids) ORDER BY c.id`,
    { ids: rows.map(({ contactId }) => bytesOf(contactId)) },
  );
  const points = new Map(
    found.map((row) => [idOf<string>(row.contact_id), addressOf(row)?.known?.point ?? null]),
  );
  return rows
    .flatMap((row): FieldDay['near'] => {
      const point = points.get(row.contactId);
      if (!point) return [];
      const { key, kind, contactId, contactName: name, companyName, reasons, arithmetic } = row;
      const reason = reasons.map(({ words }) => words).join(' · ');
      const { costMinor } = arithmetic;
      return [
        {
          key,
          kind,
          contactId,
          name,
          companyName,
          reason,
          point,
          costMinor,
          minutes: reckoned.minutes.visit,
        },
      ];
    })
    .slice(0, mostNear);
}
