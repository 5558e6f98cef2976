import type { Queryable } from '../src/platform/database/database';

export interface SchemaColumn {
  readonly table: string;
  readonly name: string;
  readonly dataType: string;
  readonly columnType: string;
  readonly mayBeEmpty: boolean;
  readonly isKey: boolean;
  /** The table it refers to. */
  readonly parent: string | null;
  /** What its own check says. */
  readonly check: string;
}

/** Every column of the migrated schema, by table and place. */
export async function readColumns(db: Queryable): Promise<readonly SchemaColumn[]> {
  const [columns, references, checks] = await Promise.all([
    db.rows<
      Omit<SchemaColumn, 'mayBeEmpty' | 'isKey'> & {
        isNullable: string;
        columnKey: string;
        made: string | null;
      }
    >(
      `SELECT c.table_name AS \`table\`, c.column_name AS name, c.data_type AS dataType, c.column_type AS columnType,
              c.is_nullable AS isNullable, c.column_key AS columnKey, c.generation_expression AS made
         FROM information_schema.columns c JOIN information_schema.tables t
           ON t.table_schema = c.table_schema AND t.table_name = c.table_name AND t.table_type = 'BASE TABLE'
        WHERE c.table_schema = DATABASE() ORDER BY c.table_name, c.ordinal_position`,
    ),
    db.rows<{ column: string; parent: string }>(
      `SELECT CONCAT(table_name, '.', column_name) AS \`column\`, MIN(referenced_table_name) AS parent
         FROM information_schema.key_column_usage
        WHERE table_schema = DATABASE() AND referenced_table_name IS NOT NULL GROUP BY 1 ORDER BY 1`,
    ),
    db.rows<{ table: string; clause: string }>(
      `SELECT table_name AS \`table\`, check_clause AS clause FROM information_schema.check_constraints
        WHERE constraint_schema = DATABASE() ORDER BY table_name, check_clause`,
    ),
  ]);
  const parents = new Map(references.map(({ column, parent }) => [column, parent]));
  return columns.map(({ isNullable, columnKey, made, ...column }) => ({
    ...column,
    // A column made from others is said to be empty even where its formula ends in a value.
    mayBeEmpty: isNullable === 'YES' && !/^coalesce\(.*,'[^']*'\)$/s.test(made ?? ''),
    isKey: columnKey === 'PRI',
    parent: parents.get(`${column.table}.${column.name}`) ?? null,
    check:
      checks.find(
        ({ table, clause }) =>
          table === column.table &&
          (clause.startsWith(`\`${column.name}\` in (`) || clause === `json_valid(\`${column.name}\`)`),
      )?.clause ?? '',
  }));
}

/** What the ids of a table are called in the contract. The ids of the others are told apart by nothing. */
const idNames: Readonly<Record<string, string>> = {
  agreement: 'AgreementId',
  api_key: 'ApiKeyId',
  hook: 'HookId',
  house_rule: 'RuleId',
  rule_firing: 'RuleFiringId',
  app_user: 'UserId',
  bulk: 'BulkId',
  cadence: 'CadenceId',
  cadence_version: 'CadenceVersionId',
  change_set: 'ChangeSetId',
  company: 'CompanyId',
  contact: 'ContactId',
  contact_merge: 'MergeId',
  custom_field: 'CustomFieldId',
  deal: 'DealId',
  entry_comment: 'CommentId',
  import_batch: 'ImportId',
  journal_entry: 'EntryId',
  mail: 'MailId',
  appointment: 'AppointmentId',
  outside_calendar: 'OutsideCalendarId',
  notification: 'NotificationId',
  phone_call: 'PhoneCallId',
  pipeline: 'PipelineId',
  product: 'ProductId',
  run: 'RunId',
  sales_lead: 'LeadId',
  quote: 'QuoteId',
  invoice: 'InvoiceId',
  report_mailing: 'ReportMailingId',
  saved_view: 'ViewId',
  site: 'SiteId',
  snippet: 'SnippetId',
  wording: 'WordingId',
  stage: 'StageId',
  standing: 'StandingId',
  stirring: 'StirringId',
  stored_file: 'FileId',
  talk: 'TalkId',
  task: 'TaskId',
  template: 'TemplateId',
  text_message: 'TextId',
  web_form: 'FormId',
};

/** References that are no foreign keys, because what they name may be gone. */
const unkept: Readonly<Record<string, string>> = {
  appointment_id: 'appointment',
  contact_id: 'contact',
  gone_id: 'contact',
  kept_id: 'contact',
  set_id: 'change_set',
  undoes_id: 'change_set',
  undone_by_id: 'change_set',
  user_id: 'app_user',
  current_version_id: 'cadence_version',
  thread_id: 'mail',
};

/** The text of `schema.generated.ts`: a type for the rows of each table, as the driver gives them. */
export async function writeRowTypes(db: Queryable): Promise<string> {
  const rows = await readColumns(db);
  const names = [...new Set(rows.map((row) => row.table))];
  const table = (name: string) => {
    const columns = rows
      .filter((row) => row.table === name)
      .map((row) => `    ${row.name}: ${typeOf(row)}${row.mayBeEmpty ? ' | null' : ''};`);
    return `  ${name}: {\n${columns.join('\n')}\n  };`;
  };
  const used = [...new Set(rows.map(idNameOf).filter((name) => name !== null))].sort();
  return [
    '// Written from the migrated schema by `npm run schema`; a test fails when it is out of date.',
    `import type {\n${used.map((name) => `  ${name},`).join('\n')}\n} from '@kettle/contract';`,
    "import type { IdBytes } from '../ids';\n",
    '/** A DATETIME(3) or TIMESTAMP in UTC, as the driver gives it: `2026-11-24 09:15:00.000`. `instantOf` makes an instant of it. */',
    'export type SqlInstant = string;',
    '/** A DECIMAL as text, so that no digit is lost. */',
    'export type SqlDecimal = string;',
    '/** A BIGINT: a number, or text where a number would lose digits. `wholeNumber` makes a number of it. */',
    'export type SqlWhole = number | string;',
    '/** JSON as text, not read yet. */',
    'export type SqlJson = string;\n',
    '/** Every table with the columns of its rows. */',
    `export interface Tables {\n${names.map(table).join('\n')}\n}\n`,
    '/** Some columns of the rows of a table. */',
    'export type Row<Table extends keyof Tables, Column extends keyof Tables[Table]> = Pick<Tables[Table], Column>;\n',
  ].join('\n');
}

function idNameOf({ table, name, dataType, parent }: SchemaColumn): string | null {
  if (dataType !== 'binary') return null;
  const names = name === 'id' && parent === null ? table : (parent ?? unkept[name] ?? '');
  return idNames[names] ?? null;
}

function typeOf(row: SchemaColumn): string {
  const { dataType, columnType, check } = row;
  if (columnType === 'binary(16)') return `IdBytes<${idNameOf(row) ?? 'string'}>`;
  if (/binary|blob/.test(dataType)) return 'Buffer';
  if (dataType === 'enum') return wordsIn(columnType);
  if (check.startsWith('json_valid')) return 'SqlJson';
  if (check !== '') return wordsIn(check);
  return sqlTypes[dataType] ?? 'string';
}

const sqlTypes: Readonly<Record<string, string>> = {
  bigint: 'SqlWhole',
  decimal: 'SqlDecimal',
  int: 'number',
  tinyint: 'number',
  smallint: 'number',
  double: 'number',
  datetime: 'SqlInstant',
  timestamp: 'SqlInstant',
};

const wordsIn = (text: string) => [...text.matchAll(/'([^']*)'/g)].map(([word]) => word).join(' | ');
