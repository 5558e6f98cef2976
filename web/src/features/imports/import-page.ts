import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { RouterLink } from '@angular/router';
import type { CustomField, ImportPreview, RemapImport, RowVerdict } from '@kettle/contract';
import {
  dateOrderLabel,
  decimalMarkLabel,
  importKindForms,
  importKindLabel,
  importKinds,
  newKindForms,
  rowChoiceLabel,
  type ImportKind,
  type RowChoice,
} from '@kettle/contract/imports/kinds';
import { importFieldLabel } from '@kettle/contract/labels';
import { sayCount } from '@kettle/core/locale';
import { firstValueFrom, type Observable } from 'rxjs';
import { v7 } from 'uuid';
import { Api, ApiProblem, problemOf } from '../../api/api';
import { choiceParts } from '../../kit/choice';
import { ChoiceField, labelled, sameWords } from '../../kit/choice-field';
import { FileField } from '../../kit/file-field';
import { CountPipe, MomentPipe } from '../../kit/say.pipes';
import { tableParts } from '../../kit/table';
import { WhyNot } from '../../kit/why-not';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';
import { PeopleWords } from '../fields/index';
import { readBase64 } from './read-base64';

const largestFile = 15 * 1024 * 1024;
const verdictWords: Record<RowVerdict, string> = {
  new: $localize`new`,
  likely: $localize`likely here`,
  known: $localize`known`,
  'twice-in-file': $localize`twice`,
  wrong: $localize`wrong`,
};
const encodings = ['UTF-8', 'windows-1252', 'ISO-8859-1', 'UTF-16LE'];

const ownField = ({ id }: CustomField) => `custom:${id}`;

/** Where the records of a kind are seen. */
const places: Readonly<Record<ImportKind, string>> = {
  ...{ people: '/people', companies: '/people/companies', products: '/settings', leads: '/deals/leads' },
  ...{ deals: '/deals', agreements: '/renewals', tasks: '/tasks', notes: '/people' },
};

/** Brings in files: judged row by row first, columns corrected, written only when it is confirmed. */
@Component({
  selector: 'kettle-import-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[tableParts, choiceParts, ChoiceField, CountPipe, FileField, MatButtonModule, MatCheckboxModule],
    ...[MomentPipe, RouterLink, WhyNot],
  ],
  templateUrl: './import-page.html',
  styleUrl: './import-page.scss',
})
export class ImportPage {
  protected readonly texts = {
    tab: $localize`tab`,
    noRow: $localize`No row of this file is new and right: see the rows below.`,
    notYours: $localize`What is sold is an admin’s to say.`,
    rows: $localize`row|rows`,
    columnsOfLeads: $localize`column fills a field of leads: it is|columns fill fields of leads: they are`,
    column: (index: string | number) => $localize`column ${index}:index:`,
    whatTheColumnHolds: (name: string | number) => $localize`What the column ${name}:name: holds`,
    whatHappens: (line: number) => $localize`What happens to line ${line}:line:`,
    needed: (name: string) => $localize`${name}:name: (needed)`,
  };

  private readonly api = inject(Api);
  private readonly selected = inject(SelectedRecord);
  private readonly user = inject(CurrentUser);
  private readonly people = inject(PeopleWords);
  /** The judged file, kept in the address so that a reload comes back to it. */
  readonly file = input<string>();
  /** What files are expected to hold, from where the page was opened. */
  readonly kind = input<string>();

  protected readonly encodings = encodings;
  protected readonly words = verdictWords;
  protected readonly places = places;
  protected readonly kindWords = importKindLabel;
  protected readonly kinds = labelled(importKindLabel);
  protected readonly dates = labelled(dateOrderLabel);
  protected readonly numbers = labelled(decimalMarkLabel);
  protected readonly choices = labelled(rowChoiceLabel);
  /** One that is likely somebody of another line of the file is no record yet. */
  protected readonly choicesOfOther = this.choices.filter(({ value }) => value !== 'same');
  protected readonly withLikely = signal(false);
  protected readonly updates = signal(false);
  /** The campaign of the leads that are made of the rows; null makes none. */
  protected readonly leadsAs = signal<string | null>(null);
  protected readonly preview = signal<ImportPreview | null>(null);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isBusy = signal(false);

  /** What a column can hold: of people built-in fields, then those an admin defined; of others what the server says. */
  protected readonly fields = computed((): { field: string; label: string }[] => {
    const shown = this.preview();
    if (shown === null || shown.kind !== 'people')
      return [
        { field: 'ignore', label: importFieldLabel.ignore },
        ...(shown?.fields ?? []).map(({ key, name, isNeeded }) => ({
          field: key,
          label: isNeeded ? this.texts.needed(name) : name,
        })),
      ];
    return [
      ...Object.entries(importFieldLabel).map(([field, label]) => ({ field, label })),
      ...this.people.fieldsOf('contact').map((field) => ({ field: ownField(field), label: field.name })),
      ...this.people
        .fieldsOf('lead')
        .map((field) => ({ field: ownField(field), label: $localize`${field.name} (of the lead)` })),
    ];
  });
  /** Columns that fill fields of leads, which are written only where each row becomes one. */
  protected readonly ofLeads = computed(() => {
    if (this.preview()?.kind !== 'people') return 0;
    const leads = new Set(this.people.fieldsOf('lead').map(ownField));
    return (this.preview()?.columns ?? []).filter(({ field }) => leads.has(field)).length;
  });
  /** How many are made; rows that were decided one by one count as they were. */
  protected readonly makes = computed(() => {
    const shown = this.preview();
    if (shown === null) return 0;
    const likely = shown.rows.filter(({ verdict }) => verdict === 'likely');
    const decided = likely.filter(({ choice }) => choice !== null).length;
    const asNew = likely.filter(({ choice }) => choice === 'new').length;
    return shown.counts.new + asNew + (this.withLikely() ? shown.counts.likely - decided : 0);
  });
  protected readonly changes = computed(() => {
    const shown = this.preview();
    if (shown === null) return 0;
    const same = shown.rows.filter(({ choice }) => choice === 'same').length;
    return same + (this.updates() ? shown.counts.differs : 0);
  });
  protected readonly whyNot = computed(() => {
    if (this.preview()?.kind === 'products' && this.user.person()?.role !== 'admin')
      return this.texts.notYours;
    return this.makes() + this.changes() > 0 ? null : this.texts.noRow;
  });
  /** What the button does. */
  protected readonly act = computed(() => {
    const shown = this.preview();
    if (shown === null) return '';
    const made = sayCount(this.makes(), newKindForms[shown.kind]);
    const changed = sayCount(this.changes(), importKindForms[shown.kind]);
    if (this.changes() === 0) return $localize`Write ${made}:made:`;
    return this.makes() === 0
      ? $localize`Change ${changed}:changed:`
      : $localize`Write ${made}:made:, change ${changed}:changed:`;
  });
  protected readonly hasDates = computed(() => this.preview()?.kind !== 'people');
  /** The next file of the package that is to be written. */
  protected readonly next = computed(() => {
    const shown = this.preview();
    return shown?.package.find(({ id, state }) => id !== shown.id && state === 'judged') ?? null;
  });
  protected readonly sheetNames = computed(() =>
    (this.preview()?.sheets ?? []).map((name, value) => ({ value, words: name })),
  );
  protected readonly encodingNames = sameWords(encodings);

  constructor() {
    this.people.wake();
    effect(() => {
      const id = this.file();
      untracked(() => {
        if (id && this.preview()?.id !== id) this.ask(this.api.call('getImport', { params: { id } }));
      });
    });
    inject(ChangeStream)
      .of('import')
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        const shown = this.preview();
        if (shown !== null && shown.state !== 'judged')
          this.ask(this.api.call('getImport', { params: { id: shown.id } }));
      });
  }

  /** Sends files one after the other, and opens the one that is to be written first. */
  protected async take(files: readonly File[]): Promise<void> {
    const large = files.find(({ size }) => size > largestFile);
    if (large !== undefined) {
      this.problem.set(
        new ApiProblem(
          'too-large',
          $localize`${large.name}:name: is larger than 15 MB. Split it and bring in the parts.`,
        ),
      );
      return;
    }
    this.isBusy.set(true);
    this.problem.set(null);
    const packageId = files.length > 1 ? v7() : null;
    const asked = importKinds.find((each) => each === this.kind()) ?? null;
    let last: ImportPreview | null = null;
    for (const file of files) {
      try {
        const contentBase64 = await readBase64(file);
        const body = {
          fileName: file.name,
          contentBase64,
          kind: packageId === null ? asked : null,
          packageId,
        };
        last = await firstValueFrom(this.api.call('uploadImport', { body }));
      } catch (error) {
        const { code, message, fields } = problemOf(error);
        const words = files.length > 1 ? `${file.name}: ${message}` : message;
        this.problem.set(new ApiProblem(code, words, fields));
        break;
      }
    }
    this.isBusy.set(false);
    const first = last?.package.find(({ state }) => state === 'judged')?.id ?? last?.id;
    if (last !== null && first === last.id) this.put(last);
    else if (first !== undefined) this.open(first);
  }

  /** A file of the package, judged against what is here by now. */
  protected open(id: string): void {
    this.isBusy.set(true);
    this.api.call('getImport', { params: { id } }).subscribe({
      next: (file) =>
        this.ask(
          file.state === 'judged'
            ? this.api.call('remapImport', { params: { id }, body: bodyOf(file) })
            : this.api.call('getImport', { params: { id } }),
        ),
      error: (error: unknown) => this.fail(error),
    });
  }

  protected remap(index: number, field: string): void {
    const shown = this.preview();
    if (shown === null) return;
    // A field given to one column is taken from the one that had it.
    const fields = shown.columns.map((column, at) =>
      at === index ? field : column.field === field ? 'ignore' : column.field,
    );
    this.readAgain({ fields } as Partial<RemapImport>);
  }

  /** Reads the file another way: as another kind, of another sheet, with other letters, days or numbers. */
  protected readAgain(part: Partial<RemapImport>): void {
    const shown = this.preview();
    if (shown === null) return;
    this.ask(this.api.call('remapImport', { params: { id: shown.id }, body: { ...bodyOf(shown), ...part } }));
  }

  protected choose(line: number, choice: RowChoice): void {
    const shown = this.preview();
    if (shown === null) return;
    const body = { version: shown.version, lines: [line], choice };
    this.ask(this.api.call('chooseImportRows', { params: { id: shown.id }, body }));
  }

  protected confirm(): void {
    const shown = this.preview();
    if (shown === null || this.isBusy()) return;
    const body = {
      ...{ version: shown.version, withLikely: this.withLikely(), updates: this.updates() },
      leadsAs: shown.kind === 'people' ? this.leadsAs()?.trim() || null : null,
    };
    this.ask(this.api.call('confirmImport', { params: { id: shown.id }, body }));
  }

  protected retry(): void {
    const shown = this.preview();
    if (shown) this.ask(this.api.call('retryImport', { params: { id: shown.id } }));
  }

  /** What came of a file. */
  protected doneWords({ kind, written, changed, refused }: ImportPreview): string {
    const parts = [$localize`${sayCount(written, importKindForms[kind])}:written: written`];
    if (changed > 0) parts.push($localize`${changed}:changed: changed`);
    if (refused > 0) parts.push($localize`${refused}:refused: refused, as the rows say`);
    return $localize`Done: ${parts.join(', ')}:parts:.`;
  }

  protected sampleOf(cells: readonly string[]): string {
    return cells.filter((cell) => cell.trim() !== '').join(' · ');
  }

  protected startOver(): void {
    this.preview.set(null);
    this.problem.set(null);
    this.selected.setQuery({ file: null });
  }

  private ask(asked: Observable<ImportPreview>): void {
    this.isBusy.set(true);
    this.problem.set(null);
    asked.subscribe({ next: (preview) => this.put(preview), error: (error: unknown) => this.fail(error) });
  }

  private put(preview: ImportPreview): void {
    this.isBusy.set(false);
    this.preview.set(preview);
    if (this.file() !== preview.id) this.selected.setQuery({ file: preview.id });
  }

  private fail(error: unknown): void {
    this.isBusy.set(false);
    this.problem.set(problemOf(error));
  }
}

/** A file read as it is now. */
const bodyOf = ({ version, columns }: ImportPreview): RemapImport => ({
  version,
  fields: columns.map(({ field }) => field) as RemapImport['fields'],
  encoding: null,
});
