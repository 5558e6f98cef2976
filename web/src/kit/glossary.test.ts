import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Component } from '@angular/core';
import { showPart } from '../../testing/part';
import { glossary } from './glossary';
import { ExplainedWord } from './own-word';

test('says of each word what the written glossary says', () => {
  const written = readFileSync(join(__dirname, '../../../docs/glossary.md'), 'utf8');
  const rows = new Map(
    [...written.matchAll(/^\| ([^|]+?) +\| ([^|]+?) +\|$/gm)].map(([, word, meaning]) => [word, meaning]),
  );
  for (const [word, meaning] of Object.entries(glossary))
    expect([word, rows.get(word)]).toEqual([word, meaning]);
});

test('a word says what it means once somebody points at it', async () => {
  @Component({
    selector: 'kettle-test-word',
    imports: [ExplainedWord],
    template: '<h1 kettleWord="tether">Tether</h1>',
  })
  class Word {}
  const part = await showPart(Word);
  const head = part.root.querySelector('h1')!;
  expect(head.title).toBe('');
  head.dispatchEvent(new Event('mouseenter'));
  await part.pass(30);
  expect(head.title).toBe(`tether: ${glossary.tether}`);
});
