import type { CardFile } from '@kettle/contract/base/list-files';
import { writeVCards, type Card } from '@kettle/core/imports';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf } from '../../platform/database/values';
import { idOf, type IdBytes } from '../../platform/ids';

type CardRow = Row<
  'contact',
  | 'id'
  | 'category'
  | 'display_name'
  | 'given_name'
  | 'family_name'
  | 'company_name'
  | 'job_title'
  | 'email'
  | 'phone'
  | 'country'
  | 'about'
  | 'created_at'
> &
  Record<'street' | 'postcode' | 'city' | 'at_country' | 'tags', string | null>;

/** Cards of people, the address that of their site, else of their company. */
export async function writeCardsOf(db: Queryable, ids: readonly IdBytes[], as: CardFile): Promise<string> {
  if (ids.length === 0) return '';
  const [rows, points] = await Promise.all([
    db.rows<CardRow>(
      `SELECT c.id, c.category, c.display_name, c.given_name, c.family_name, c.company_name, c.job_title, c.email, c.phone, c.country, c.about,
          c.created_at, COALESCE(s.street, co.street) AS street, COALESCE(s.postcode, co.postcode) AS postcode, COALESCE(s.city, co.city) AS city,
          COALESCE(s.country, co.country) AS at_country,
          (SELECT GROUP_CONCAT(t.tag ORDER BY t.tag) FROM contact_tag t WHERE t.contact_id = c.id) AS tags
        FROM contact c LEFT JOIN site s ON s.id = c.site_id LEFT JOIN company co ON co.id = c.company_id WHERE c.id IN (:ids)`,
      { ids },
    ),
    db.rows<Row<'contact_point', 'contact_id' | 'kind' | 'value'>>(
      'SELECT contact_id, kind, value FROM contact_point WHERE contact_id IN (:ids) ORDER BY position',
      { ids },
    ),
  ]);
  const pointsOf = new Map<string, Card['points'][number][]>();
  for (const { contact_id: id, kind, value } of points) {
    const known = pointsOf.get(idOf<string>(id)) ?? [];
    pointsOf.set(idOf<string>(id), [...known, { kind, value }]);
  }
  const cards = new Map(
    rows.map((row) => [idOf<string>(row.id), cardOf(row, pointsOf.get(idOf<string>(row.id)) ?? [])]),
  );
  return writeVCards(
    ids.flatMap((id) => cards.get(idOf<string>(id)) ?? []),
    as,
  );
}

const cardOf = (row: CardRow, others: Card['points']): Card => ({
  ...{
    uid: idOf<string>(row.id),
    changedAt: instantOf(row.created_at),
    isFirm: row.category === 'organisation',
  },
  ...{ name: row.display_name, givenName: row.given_name, familyName: row.family_name },
  ...{
    company: row.company_name ?? '',
    jobTitle: row.job_title ?? '',
    note: row.about,
    tags: row.tags?.split(',') ?? [],
  },
  points: [
    ...(row.email === null ? [] : [{ kind: 'email' as const, value: row.email }]),
    ...(row.phone === null ? [] : [{ kind: 'phone' as const, value: row.phone }]),
    ...others,
  ],
  ...{ street: row.street ?? '', postcode: row.postcode ?? '', city: row.city ?? '' },
  country: regions.of(row.at_country ?? row.country) ?? row.country,
});

const regions = new Intl.DisplayNames(['en-GB'], { type: 'region' });
