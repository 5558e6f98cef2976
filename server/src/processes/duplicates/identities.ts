import { compareContacts, type Comparison, type Identity } from '@kettle/core/duplicates';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';

type IdentityRow = Row<'contact', 'id' | 'given_name' | 'family_name' | 'company_name' | 'email' | 'phone'>;

/** What contacts are compared by, with all their addresses, numbers and firms, by id as hex. */
export async function readIdentities(db: Queryable, ids: readonly Buffer[]): Promise<Map<string, Identity>> {
  const identities = new Map<string, Identity>();
  if (ids.length === 0) return identities;
  const rows = await db.rows<IdentityRow>(
    'SELECT id, given_name, family_name, company_name, email, phone FROM contact WHERE id IN (:ids)',
    { ids },
  );
  const points = await db.rows<Row<'contact_point', 'contact_id' | 'kind' | 'value'>>(
    "SELECT contact_id, kind, value FROM contact_point WHERE contact_id IN (:ids) AND kind <> 'link'",
    { ids },
  );
  const companies = await db.rows<Row<'contact_company', 'contact_id'> & Row<'company', 'name'>>(
    `SELECT l.contact_id, co.name FROM contact_company l JOIN company co ON co.id = l.company_id
      WHERE l.contact_id IN (:ids)`,
    { ids },
  );
  const of = <Row extends { contact_id: Buffer }>(all: readonly Row[], id: Buffer) =>
    all.filter((row) => row.contact_id.equals(id));
  for (const row of rows) {
    const own = of(points, row.id);
    identities.set(row.id.toString('hex'), {
      givenName: row.given_name,
      familyName: row.family_name,
      companies: [
        ...(row.company_name ? [row.company_name] : []),
        ...of(companies, row.id).map((each) => each.name),
      ],
      emails: [
        ...(row.email ? [row.email] : []),
        ...own.filter((p) => p.kind === 'email').map((p) => p.value),
      ],
      phones: [
        ...(row.phone ? [row.phone] : []),
        ...own.filter((p) => p.kind === 'phone').map((p) => p.value),
      ],
    });
  }
  return identities;
}

export interface LikePair extends Comparison {
  readonly likeness: 'certain' | 'likely';
}

/** The comparison when it is worth showing to somebody. */
export function likeOrNull(one: Identity, other: Identity): LikePair | null {
  const { likeness, ...rest } = compareContacts(one, other);
  return likeness === 'unlikely' ? null : { likeness, ...rest };
}
