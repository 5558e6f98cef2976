import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { CustomField, CustomFieldType, CustomSubject } from '@kettle/contract';
import { tap } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { field, type Option, pageFormParts, RecordForm, required } from '../../kit/form';
import { Undo } from '../../services/undo';
import { spoken } from '../../kit/value-words';

/** Fields an admin defines: they work in grid, filter, import and export like the built-in ones. */
@Component({
  selector: 'kettle-custom-field-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts, MatButtonModule],
  template: `
    <section>
      <h2 i18n>Custom fields</h2>
      <p i18n class="soft">A retired field keeps its values and is shown nowhere until it is brought back.</p>
      <ul>
        @for (field of fields(); track field.id) {
          <li class="spread">
            <b [class.soft]="field.isRetired">{{ field.name }}</b>
            <span class="soft">
              {{ field.subject }} · {{ field.type }}
              @if (field.choices.length > 0) {
                · {{ field.choices.join(', ') }}
              }
              @if (field.isRetired) {
                &ngsp;
                <ng-container i18n>· retired</ng-container>
              }
            </span>
            <span class="grow"></span>
            <button i18n matButton type="button" (click)="rename(field)">change</button>
            <button matButton type="button" (click)="retire(field)">
              {{ field.isRetired ? texts.bringBack : texts.retire }}
            </button>
          </li>
        } @empty {
          <li i18n class="soft">None yet.</li>
        }
      </ul>
      <h3>{{ editing() ? texts.change(editing()?.name ?? '') : texts.aNewField }}</h3>
      <kettle-page-form [act]="editing() ? texts.save : texts.addTheField" [form]="form" (save)="save()">
        <div class="form-grid">
          <kettle-text-field label="Name" i18n-label [formControl]="form.controls.name" [most]="60" />
          @if (editing() === null) {
            <kettle-choice-field
              label="Of"
              i18n-label
              [formControl]="form.controls.subject"
              [options]="subjects"
            />
            <kettle-choice-field
              label="Holds"
              i18n-label
              [formControl]="form.controls.type"
              [options]="types"
            />
          }
          @if (form.controls.type.value === 'choice') {
            <kettle-text-field
              class="wide"
              label="Choices, with commas between"
              i18n-label
              [formControl]="form.controls.choices"
            />
          }
        </div>
        @if (editing()) {
          <button i18n besideActs matButton type="button" (click)="startOver()">Cancel</button>
        }
      </kettle-page-form>
    </section>
  `,
  styleUrl: './settings-part.scss',
})
export class CustomFieldSettings {
  protected readonly texts = {
    bringBack: $localize`bring back`,
    retire: $localize`retire`,
    change: (name: string | number) => $localize`Change ${name}:name:`,
    aNewField: $localize`A new field`,
    save: $localize`Save`,
    addTheField: $localize`Add the field`,
  };

  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly loaded = reading((_: null) =>
    this.api.call('listCustomFields', { query: { retired: 'yes' } }),
  );
  protected readonly fields = computed(() => this.loaded.value()?.fields ?? []);
  protected readonly editing = signal<CustomField | null>(null);
  protected readonly subjects = spoken<CustomSubject>(['contact', 'company', 'deal', 'lead']);
  protected readonly types: readonly Option<CustomFieldType>[] = [
    { value: 'text', words: $localize`text` },
    { value: 'number', words: $localize`a number` },
    { value: 'money', words: $localize`money` },
    { value: 'date', words: $localize`a date` },
    { value: 'choice', words: $localize`a choice` },
    { value: 'yes-no', words: $localize`yes or no` },
    { value: 'link', words: $localize`a link` },
    { value: 'person', words: $localize`a person` },
  ];
  protected readonly form = new RecordForm({
    name: required(''),
    subject: field<CustomSubject>('contact'),
    type: field<CustomFieldType>('text'),
    choices: field(''),
  });

  constructor() {
    this.loaded.read(null);
  }

  protected rename(field: CustomField): void {
    this.editing.set(field);
    this.form.submission.clear();
    const { name, subject, type, choices } = field;
    this.form.reset({ name, subject, type, choices: choices.join(', ') });
  }

  protected startOver(): void {
    this.editing.set(null);
    this.form.submission.clear();
    this.form.reset();
  }

  protected retire(field: CustomField): void {
    const { name, choices, version } = field;
    this.write(field, { version, name, choices, isRetired: !field.isRetired });
  }

  protected save(): void {
    const typed = this.form.getRawValue();
    const choices = typed.choices
      .split(',')
      .map((choice) => choice.trim())
      .filter(Boolean);
    const field = this.editing();
    if (field !== null) {
      const { version, isRetired } = field;
      return this.write(field, { version, name: typed.name, choices, isRetired });
    }
    const changeId = v7();
    this.form.send(
      { ...typed, choices },
      (body) => this.api.call('createCustomField', { body }, changeId),
      (made) => this.done($localize`${made.name} is added.`, changeId),
    );
  }

  private write(
    field: CustomField,
    body: { version: number; name: string; choices: readonly string[]; isRetired: boolean },
  ): void {
    const changeId = v7();
    this.form.submission.send(
      body,
      (sent) =>
        this.api
          .call(
            'changeCustomField',
            { params: { id: field.id }, body: { ...sent, choices: [...sent.choices] } },
            changeId,
          )
          .pipe(tap({ error: () => this.loaded.again() })),
      (changed) => this.done($localize`${changed.name} is saved.`, changeId),
    );
  }

  private done(words: string, changeId: string): void {
    this.undo.offer(words, changeId, () => this.loaded.again());
    this.startOver();
    this.loaded.again();
  }
}
