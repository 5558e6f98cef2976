import type { FieldAddress } from '@kettle/contract';
import { pointOfPostcode } from '@kettle/core/route';
import type { Row, SqlDecimal } from '../../platform/database/schema.generated';
import { idOf, idOrNull } from '../../platform/ids';

/** The address of the joined contact `c`: of its site, else of its company `o`; the site is joined as `s`. */
export const addressColumns = `o.id AS company_id, s.id AS site_id, COALESCE(s.street, IF(s.id IS NULL, o.street, NULL)) AS street,
  IF(s.id IS NULL, o.postcode, s.postcode) AS postcode, IF(s.id IS NULL, o.city, s.city) AS city,
  IF(s.id IS NULL, o.latitude, s.latitude) AS latitude, IF(s.id IS NULL, o.longitude, s.longitude) AS longitude`;
export const addressJoins = 'LEFT JOIN company o ON o.id = c.company_id LEFT JOIN site s ON s.id = c.site_id';

export interface AddressColumns {
  company_id: Row<'company', 'id'>['id'] | null;
  site_id: Row<'site', 'id'>['id'] | null;
  street: string | null;
  postcode: string | null;
  city: string | null;
  latitude: SqlDecimal | null;
  longitude: SqlDecimal | null;
}

/** Where a person is, as far as that is known; null of whoever has no company. */
export function addressOf(row: AddressColumns): FieldAddress {
  if (row.company_id === null) return null;
  const words = [row.street, [row.city, row.postcode].filter(Boolean).join(' ')].filter(Boolean).join(', ');
  const { latitude, longitude } = row;
  const byPostcode = pointOfPostcode(row.postcode);
  return {
    companyId: idOf(row.company_id),
    siteId: idOrNull(row.site_id),
    words,
    known:
      latitude !== null && longitude !== null
        ? { point: { latitude: Number(latitude), longitude: Number(longitude) }, isByHand: true }
        : byPostcode && { point: byPostcode, isByHand: false },
  };
}
