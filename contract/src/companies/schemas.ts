import * as z from 'zod';
import { countedValues } from '../base/counted-values';
import { companyPlain } from '../base/catalogues';
import { companyId, customFieldId, siteId, userId } from '../base/ids';
import { gridFilter, gridPage, grouping } from '../base/grid';
import { plainShape } from '../base/plain-shape';
import { countryCode, instant, line, resolved, version, zoneName } from '../base/values';
import { customValue } from '../contacts';

export const companyRow = z.object({
  id: companyId,
  name: z.string(),
  trade: z.string().nullable(),
  city: z.string().nullable(),
  country: z.string(),
  website: z.string().nullable(),
  ownerId: userId.nullable(),
  ownerName: z.string().nullable(),
  people: z.int(),
  openDeals: z.int(),
  openValueMinor: z.int(),
  lastTouchAt: instant.nullable(),
  archivedAt: instant.nullable(),
  custom: z.record(z.string(), customValue),
  counted: countedValues.optional(),
  version: z.int(),
});

export type CompanyRow = z.infer<typeof companyRow>;

export const site = z.object({
  /** Null for the main site, which is the company's own address. */
  id: siteId.nullable(),
  name: z.string(),
  street: z.string().nullable(),
  postcode: z.string().nullable(),
  city: z.string().nullable(),
  country: z.string(),
  zone: z.string(),
});

export type Site = z.infer<typeof site>;

export const company = companyRow.extend({
  ...plainShape(companyPlain),
  sites: z.array(site),
});

export type Company = z.infer<typeof company>;

const siteFields = z.object({
  id: siteId.nullable(),
  name: line(80),
  street: z.string().trim().max(160).nullable(),
  postcode: z.string().trim().max(20).nullable(),
  city: z.string().trim().max(160).nullable(),
  country: countryCode,
  /** Null takes the zone of the country. */
  zone: zoneName.nullable(),
});

export const changeCompany = z.object({
  version,
  resolved,
  // What is left out stays as it is.
  ...z
    .object({
      name: line(160),
      ...plainShape(companyPlain),
      /** The main site first. */
      sites: z.array(siteFields).min(1).max(50),
    })
    .partial().shape,
  custom: z.record(customFieldId, customValue).optional(),
});

export type ChangeCompany = z.output<typeof changeCompany>;

/** Which companies a list or a count is about. */
export const companyQuery = z.object({
  q: z.string().trim().max(100).default(''),
  owner: z.enum(['mine', 'all']).default('all'),
  /** The archived ones, and only those; left out, those that are not. */
  archived: z.enum(['yes']).optional(),
  filter: gridFilter.optional(),
});

export type CompanyQuery = z.output<typeof companyQuery>;

export const listCompanies = companyQuery.extend({
  ...gridPage,
  limit: z.coerce.number().int().min(1).max(500).default(200),
});

export const countCompanies = companyQuery.extend({ group: grouping.optional() });

export const companyPage = z.object({ rows: z.array(companyRow) });
