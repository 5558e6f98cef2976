import { randomBytes } from 'node:crypto';
import type { FormId, WebForm } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { textsOf, sqlInstant, wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { mergeChange } from '../../platform/work/merge-change';
import { work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

interface FormColumns extends Row<
  'web_form',
  | 'id'
  | 'form_key'
  | 'name'
  | 'title'
  | 'asks_phone'
  | 'asks_company'
  | 'asks_postcode'
  | 'consent_words'
  | 'confirms_consent'
  | 'thanks'
  | 'source'
  | 'campaign'
  | 'is_open'
  | 'origins'
  | 'trapped'
  | 'version'
> {
  leads: string;
}

/** Forms by name. @param where a condition on `web_form f` */
export async function readWebForms(
  db: Queryable,
  origin: string,
  where = 'TRUE',
  parameters: Record<string, string | Buffer> = {},
): Promise<WebForm[]> {
  const rows = await db.rows<FormColumns>(
    `SELECT f.id, f.form_key, f.name, f.title, f.asks_phone, f.asks_company, f.asks_postcode, f.consent_words, f.confirms_consent, f.thanks, f.source,
            f.campaign, f.is_open, f.origins, f.trapped, f.version, (SELECT COUNT(*) FROM sales_lead l WHERE l.form_id = f.id) AS leads
       FROM web_form f WHERE ${where} ORDER BY f.name, f.id`,
    parameters,
  );
  return rows.map((row) => ({
    id: idOf<FormId>(row.id),
    key: row.form_key,
    name: row.name,
    title: row.title,
    asksPhone: row.asks_phone === 1,
    asksCompany: row.asks_company === 1,
    asksPostcode: row.asks_postcode === 1,
    consentWords: row.consent_words,
    confirmsConsent: row.confirms_consent === 1,
    thanks: row.thanks,
    source: row.source,
    campaign: row.campaign,
    isOpen: row.is_open === 1,
    origins: textsOf(row.origins),
    leads: wholeNumber(row.leads),
    trapped: row.trapped,
    address: `${origin}/out/forms/${row.form_key}`,
    version: row.version,
  }));
}

const keyBytes = 12;

/** Where the fields of a change are kept, so that two people's changes meet field by field. */
const fields = {
  name: { column: 'name' },
  title: { column: 'title' },
  asksPhone: { column: 'asks_phone' },
  asksCompany: { column: 'asks_company' },
  asksPostcode: { column: 'asks_postcode' },
  consentWords: { column: 'consent_words' },
  confirmsConsent: { column: 'confirms_consent', read: (text: string | null) => text === '1' },
  thanks: { column: 'thanks' },
  source: { column: 'source' },
  campaign: { column: 'campaign' },
  isOpen: { column: 'is_open' },
  origins: { column: 'origins', read: (text: string | null): unknown => JSON.parse(text ?? '[]') },
};

/** Forms for the web as an admin makes them; everybody may see where they stand. */
export function webFormsRoutes(
  services: Services,
): Pick<Handlers, 'listWebForms' | 'createWebForm' | 'changeWebForm'> {
  const { database } = services;
  const origin = services.channels.publicOrigin;
  const readForm = async (id: string, db: Queryable = database): Promise<WebForm> => {
    const [form] = await readWebForms(db, origin, 'f.id = :id', { id: bytesOf(id) });
    if (!form) throw new Problem('not-found');
    return form;
  };
  return {
    listWebForms: async () => ({ forms: await readWebForms(database, origin) }),
    createWebForm: async ({ body, who }) => {
      const made = await work(services, who, async (w) => {
        assertMailLeaves(services, body);
        const id = newId<FormId>();
        await w.change(
          `INSERT INTO web_form (id, form_key, name, title, asks_phone, asks_company, asks_postcode, consent_words, confirms_consent, thanks, source,
              campaign, is_open, origins, created_at)
           VALUES (:id, :key, :name, :title, :asksPhone, :asksCompany, :asksPostcode, :consentWords, :confirmsConsent, :thanks, :source,
              :campaign, :isOpen, :origins, :now)`,
          {
            ...body,
            id: bytesOf(id),
            key: randomBytes(keyBytes).toString('base64url'),
            origins: JSON.stringify(body.origins),
            now: sqlInstant(w.now),
          },
        );
        w.say($localize`Form “${body.name}:name:” created`);
        return id;
      });
      return readForm(made);
    },
    changeWebForm: async ({ params, body: asked, who }) => {
      await work(services, who, async (w) => {
        await w.rows('SELECT 1 FROM web_form WHERE id = :id FOR UPDATE', { id: bytesOf(params.id) });
        const record = await readForm(params.id, w);
        const change = { table: 'web_form', id: params.id, fields, asked, record };
        const { version: _, resolved: __, origins, ...body } = await mergeChange(w, change);
        assertMailLeaves(services, body);
        await w.change(
          `UPDATE web_form SET name = :name, title = :title, asks_phone = :asksPhone, asks_company = :asksCompany,
                  asks_postcode = :asksPostcode, consent_words = :consentWords,
                  confirms_consent = :confirmsConsent, thanks = :thanks, source = :source,
                  campaign = :campaign, is_open = :isOpen, origins = :origins, version = version + 1
            WHERE id = :id`,
          { ...body, id: bytesOf(params.id), origins: JSON.stringify(origins) },
        );
        w.say($localize`Form “${body.name}:name:” changed`);
      });
      return readForm(params.id);
    },
  };
}

/** A consent is asked for by mail only where mail leaves. @throws Problem `invalid-request` at the field */
function assertMailLeaves({ channels }: Services, { confirmsConsent }: { confirmsConsent: boolean }): void {
  if (!confirmsConsent || channels.mailOut !== null) return;
  const message = $localize`needs mail that goes out, which is not set up on this server`;
  throw new Problem('invalid-request', {}, { fields: [{ path: 'confirmsConsent', message }] });
}
