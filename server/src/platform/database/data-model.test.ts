import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { install, type Installation } from '../../../testing/installation';
import { readColumns, writeRowTypes } from '../../../testing/row-types';
import { machinery, tables } from './tables';

const file = path.join(__dirname, '..', '..', '..', '..', 'docs', 'data-model.md');

let installation: Installation;
beforeAll(async () => {
  installation = await install();
});
afterAll(() => installation.close());

/** Every table with its columns and what they refer to, from the migrated schema. */
async function describeModel(): Promise<string> {
  const rows = await readColumns(installation.services.database);
  const names = [...new Set(rows.map((row) => row.table))];
  const section = (name: string) => {
    const columns = rows
      .filter((row) => row.table === name)
      .map((column) => {
        const marks = [
          column.isKey ? 'key' : '',
          column.mayBeEmpty ? 'may be empty' : '',
          column.parent ? `→ ${column.parent}` : '',
        ];
        return `- \`${column.name}\` ${column.columnType} ${marks.filter(Boolean).join(', ')}`.trimEnd();
      });
    return `### ${name}\n\n${columns.join('\n')}\n`;
  };
  const captured = names.filter((name) => Object.hasOwn(tables, name));
  const beside = names.filter((name) => !Object.hasOwn(tables, name));
  return [
    '# Data model\n\nMade from the migrated schema; a test fails when it is out of date.\n',
    '## What people change: captured, undone, told as events\n',
    ...captured.map(section),
    '## Machinery and what is counted\n',
    ...beside.map(section),
  ].join('\n');
}

test('docs/data-model.md is the schema as it is', async () => {
  const model = await describeModel();
  if (process.env.KETTLE_WRITE) writeFileSync(file, model);
  expect(readFileSync(file, 'utf8')).toBe(model);
});

test('schema.generated.ts has the rows of the schema as it is', async () => {
  const types = await writeRowTypes(installation.services.database);
  const generated = path.join(__dirname, 'schema.generated.ts');
  if (process.env.KETTLE_WRITE) writeFileSync(generated, types);
  expect(readFileSync(generated, 'utf8')).toBe(types);
});

test('every table is either captured or known as machinery, and none is both', async () => {
  const rows = await installation.services.database.rows<{ name: string }>(
    "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE' ORDER BY table_name",
  );
  expect(rows.map(({ name }) => name).sort()).toEqual([...Object.keys(tables), ...machinery].sort());
});

test('every captured table has its three triggers, made from the schema as it is', async () => {
  const rows = await installation.services.database.rows<{ name: string; n: string }>(
    'SELECT event_object_table AS name, COUNT(*) AS n FROM information_schema.triggers WHERE trigger_schema = DATABASE() GROUP BY event_object_table ORDER BY CAST(event_object_table AS BINARY)',
  );
  expect(rows.map(({ name, n }) => [name, Number(n)])).toEqual(
    Object.keys(tables)
      .sort()
      .map((name) => [name, 3]),
  );
});

test('every reference is a foreign key: an id column refers to something, or is known not to', async () => {
  const rows = await installation.services.database.rows<{ name: string }>(
    `SELECT CONCAT(c.table_name, '.', c.column_name) AS name FROM information_schema.columns c
       JOIN information_schema.tables t ON t.table_schema = c.table_schema AND t.table_name = c.table_name AND t.table_type = 'BASE TABLE'
      WHERE c.table_schema = DATABASE() AND c.column_name LIKE '%\\_id' AND c.column_type = 'binary(16)' AND c.is_generated = 'NEVER'
        AND NOT EXISTS (SELECT 1 FROM information_schema.key_column_usage k WHERE k.table_schema = c.table_schema
          AND k.table_name = c.table_name AND k.column_name = c.column_name AND k.referenced_table_name IS NOT NULL)
      ORDER BY name`,
  );
  expect(rows.map(({ name }) => name)).toEqual([
    // What a bulk change was about is kept when the contact is gone.
    'brief_task.brief_task_id',
    'bulk.set_id',
    'bulk_item.contact_id',
    // A cadence and its first version name each other.
    'cadence.current_version_id',
    // Change sets are swept after 30 days; what names one outlives it.
    'change_set.parent_id',
    'change_set.undoes_id',
    'change_set.undone_by_id',
    // The one that was merged away is no more, and the one that was kept may be merged or deleted later.
    'contact_merge.gone_id',
    'contact_merge.kept_id',
    'contact_merge.user_id',
    // A contact's, a company's or a deal's.
    'custom_value.record_id',
    'event.record_id',
    'event.set_id',
    'event.user_id',
    'hook_call.event_id',
    // Files that were chosen together are of no record.
    'import_batch.package_id',
    'import_batch.set_id',
    // A record of any kind, which may be deleted meanwhile.
    'import_row.record_id',
    'mail.thread_id',
    'notification.set_id',
    // What lies in a calendar elsewhere is taken out there after the appointment is gone here.
    'outside_copy.appointment_id',
    // Prompts live in the stage's brief.
    'prompt_tick.prompt_id',
    // What a rule did outlives the record it did it to, and its change.
    'rule_firing.record_id',
    'rule_firing.set_id',
    // The log outlives whom it is about.
    'security_event.about_id',
    'security_event.user_id',
  ]);
});
