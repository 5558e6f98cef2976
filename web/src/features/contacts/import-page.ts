import { tableParts } from '../../kit/table';
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
import type { CustomField, ImportField, ImportPreview, RowVerdict } from '@kettle/contract';
import { importFieldLabel } from '@kettle/contract/labels';
import type { Observable } from 'rxjs';
import { Api, ApiProblem, problemOf } from '../../api/api';
import { choiceParts } from '../../kit/choice';
import { FileField } from '../../kit/file-field';
import { CountPipe, MomentPipe } from '../../kit/say.pipes';
import { WhyNot } from '../../kit/why-not';
import { ChangeStream } from '../../services/change-stream';
import { SelectedRecord } from '../../services/selected-record';
import { PeopleWords } from '../fields/index';
import { readBase64 } from './read-base64';

const largestFile = 15 * 1024 * 1024;
const verdictWords: Record<RowVerdict, string> = {
  new: 'new',
  likely: 'likely',
  known: 'known',
  'twice-in-file': 'twice',
  wrong: 'wrong',
};
const encodings = ['UTF-8', 'windows-1252', 'ISO-8859-1', 'UTF-16LE'];

const mappedTo = ({ id }: CustomField) => `custom:${id}` as ImportField;

/** Brings in a CSV or vCard file: judged row by row first, columns corrected, written only when it is confirmed. */
@Component({
  selector: 'kettle-import-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    tableParts,
    CountPipe,
    WhyNot,
    FileField,
    choiceParts,
    MatCheckboxModule,
    MatButtonModule,
    RouterLink,
    MomentPipe,
  ],
  templateUrl: './import-page.html',
  styleUrl: './import-page.scss',
})
export class ImportPage {
  protected readonly texts = {
    tab: $localize`tab`,
    noRowOfThis: $localize`No row of this file is new and right: see the rows below.`,
    newPeople: $localize`new person|new people`,
    likely: $localize`likely duplicate|likely duplicates`,
    rows: $localize`row|rows`,
    columnsOfLeads: $localize`column fills a field of leads: it is|columns fill fields of leads: they are`,
    column: (index: string | number) => $localize`column ${index}:index:`,
    whatTheColumnHolds: (name: string | number) => $localize`What the column ${name}:name: holds`,
  };

  private readonly api = inject(Api);
  private readonly selected = inject(SelectedRecord);
  /** The judged file, kept in the address so that a reload comes back to it. */
  readonly file = input<string>();

  private readonly people = inject(PeopleWords);
  protected readonly withLikely = signal(false);
  /** Built-in fields, then those an admin defined. */
  protected readonly fields = computed((): { field: ImportField; label: string }[] => [
    ...Object.entries(importFieldLabel).map(([field, label]) => ({ field: field as ImportField, label })),
    ...this.people.fieldsOf('contact').map((field) => ({ field: mappedTo(field), label: field.name })),
    ...this.people
      .fieldsOf('lead')
      .map((field) => ({ field: mappedTo(field), label: $localize`${field.name} (of the lead)` })),
  ]);
  /** Columns that fill fields of leads, which are written only where each row becomes one. */
  protected readonly ofLeads = computed(() => {
    const leads = new Set(this.people.fieldsOf('lead').map(mappedTo));
    return (this.preview()?.columns ?? []).filter(({ field }) => leads.has(field)).length;
  });
  protected readonly writes = computed(() => {
    const counts = this.preview()?.counts;
    return counts ? counts.new + (this.withLikely() ? counts.likely : 0) : 0;
  });
  protected readonly encodings = encodings;
  protected readonly words = verdictWords;
  /** The campaign of the leads that are made of the rows; null makes none. */
  protected readonly leadsAs = signal<string | null>(null);
  protected readonly preview = signal<ImportPreview | null>(null);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isBusy = signal(false);
  protected readonly progress = computed(() => {
    const shown = this.preview();
    return shown === null || shown.state === 'judged' ? null : shown.written;
  });

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

  protected async take(file: File | undefined): Promise<void> {
    if (!file) return;
    if (file.size > largestFile) {
      this.problem.set(
        new ApiProblem(
          'too-large',
          $localize`This file is larger than 15 MB. Split it and bring in the parts.`,
        ),
      );
      return;
    }
    this.ask(
      this.api.call('uploadImport', { body: { fileName: file.name, contentBase64: await readBase64(file) } }),
    );
  }

  protected remap(index: number, field: string): void {
    const shown = this.preview();
    if (shown === null) return;
    // A field given to one column is taken from the one that had it.
    const fields = shown.columns.map((column, at) =>
      at === index ? (field as ImportField) : column.field === field ? 'ignore' : column.field,
    );
    this.ask(
      this.api.call('remapImport', { params: { id: shown.id }, body: { version: shown.version, fields } }),
    );
  }

  protected reencode(encoding: string): void {
    const shown = this.preview();
    if (shown === null) return;
    const fields = shown.columns.map((column) => column.field);
    this.ask(
      this.api.call('remapImport', {
        params: { id: shown.id },
        body: { version: shown.version, fields, encoding },
      }),
    );
  }

  protected confirm(): void {
    const shown = this.preview();
    if (shown && !this.isBusy())
      this.ask(
        this.api.call('confirmImport', {
          params: { id: shown.id },
          body: {
            version: shown.version,
            withLikely: this.withLikely(),
            leadsAs: this.leadsAs()?.trim() || null,
          },
        }),
      );
  }

  protected retry(): void {
    const shown = this.preview();
    if (shown) this.ask(this.api.call('retryImport', { params: { id: shown.id } }));
  }

  protected startOver(): void {
    this.preview.set(null);
    this.selected.setQuery({ file: null });
  }

  private ask(asked: Observable<ImportPreview>): void {
    this.isBusy.set(true);
    this.problem.set(null);
    asked.subscribe({
      next: (preview) => {
        this.isBusy.set(false);
        this.preview.set(preview);
        if (this.file() !== preview.id) this.selected.setQuery({ file: preview.id });
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
