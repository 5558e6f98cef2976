import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { CustomField, CustomFieldType, CustomSubject } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { Conflicts, Submission } from '../../kit/conflicts';
import { reading } from '../../api/reading';
import { choiceParts } from '../../kit/choice';
import { Undo } from '../../services/undo';

/** Fields an admin defines: they work in grid, filter, import and export like the built-in ones. */
@Component({
  selector: 'kettle-custom-field-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [choiceParts, MatButtonModule, Conflicts, FormsModule],
  template: `
    <section>
      <h2>Custom fields</h2>
      <p class="soft">A retired field keeps its values and is shown nowhere until it is brought back.</p>
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
                · retired
              }
            </span>
            <span class="grow"></span>
            <button matButton type="button" (click)="rename(field)">change</button>
            <button matButton type="button" (click)="retire(field)">
              {{ field.isRetired ? 'bring back' : 'retire' }}
            </button>
          </li>
        } @empty {
          <li class="soft">None yet.</li>
        }
      </ul>
      <form (ngSubmit)="save()">
        <h3>{{ editing() ? 'Change ' + editing()?.name : 'A new field' }}</h3>
        <div class="form-grid">
          <mat-form-field>
            <mat-label>Name</mat-label>
            <input
              matInput
              name="name"
              [(ngModel)]="draft.name"
              required
              maxlength="60"
              [kettleProblem]="saving.problem()?.of('name')"
            />
            @if (saving.problem()?.of('name'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
          @if (editing() === null) {
            <mat-form-field>
              <mat-label>Of</mat-label>
              <mat-select name="subject" [(ngModel)]="draft.subject">
                @for (subject of subjects; track subject) {
                  <mat-option [value]="subject">{{ subject }}</mat-option>
                }
              </mat-select>
            </mat-form-field>
            <mat-form-field>
              <mat-label>Holds</mat-label>
              <mat-select name="type" [(ngModel)]="draft.type">
                @for (type of types; track type[0]) {
                  <mat-option [value]="type[0]">{{ type[1] }}</mat-option>
                }
              </mat-select>
            </mat-form-field>
          }
          @if (draft.type === 'choice') {
            <mat-form-field class="wide">
              <mat-label>Choices, with commas between</mat-label>
              <input
                matInput
                name="choices"
                [(ngModel)]="draft.choices"
                [kettleProblem]="saving.problem()?.of('choices')"
              />
              @if (saving.problem()?.of('choices'); as wrong) {
                <mat-error>{{ wrong }}</mat-error>
              }
            </mat-form-field>
          }
        </div>
        @if (saving.problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
        <kettle-conflicts [problem]="saving.problem()" [sent]="saving.sent()" [(choices)]="saving.choices" />
        <span class="spread">
          <button matButton="filled">{{ editing() ? 'Save' : 'Add the field' }}</button>
          @if (editing()) {
            <button matButton type="button" (click)="startOver()">Cancel</button>
          }
        </span>
      </form>
    </section>
  `,
  styleUrl: './settings-part.scss',
})
export class CustomFieldSettings {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly loaded = reading((_: null) =>
    this.api.call('listCustomFields', { query: { retired: 'yes' } }),
  );
  protected readonly fields = computed(() => this.loaded.value()?.fields ?? []);
  protected readonly editing = signal<CustomField | null>(null);
  protected readonly saving = new Submission();
  protected readonly subjects: readonly CustomSubject[] = ['contact', 'company', 'deal'];
  protected readonly types: readonly (readonly [CustomFieldType, string])[] = [
    ['text', 'text'],
    ['number', 'a number'],
    ['money', 'money'],
    ['date', 'a date'],
    ['choice', 'a choice'],
    ['yes-no', 'yes or no'],
    ['link', 'a link'],
    ['person', 'a person'],
  ];
  protected draft = this.blank();

  constructor() {
    this.loaded.read(null);
  }

  protected rename(field: CustomField): void {
    this.editing.set(field);
    this.draft = {
      name: field.name,
      subject: field.subject,
      type: field.type,
      choices: field.choices.join(', '),
    };
  }

  protected startOver(): void {
    this.editing.set(null);
    this.saving.clear();
    this.draft = this.blank();
  }

  protected retire(field: CustomField): void {
    const { name, choices, version } = field;
    this.write(field, { version, name, choices, isRetired: !field.isRetired });
  }

  protected save(): void {
    const choices = this.draft.choices
      .split(',')
      .map((choice) => choice.trim())
      .filter(Boolean);
    const { name, subject, type } = this.draft;
    const field = this.editing();
    if (field !== null)
      return this.write(field, { version: field.version, name, choices, isRetired: field.isRetired });
    const changeId = v7();
    this.api.call('createCustomField', { body: { name, subject, type, choices } }, changeId).subscribe({
      next: (made) => this.done(`${made.name} is added.`, changeId),
      error: this.saving.refuse,
    });
  }

  private write(
    field: CustomField,
    body: { version: number; name: string; choices: string[]; isRetired: boolean },
  ): void {
    const changeId = v7();
    const call = { params: { id: field.id }, body: this.saving.bodyOf(body) };
    this.api.call('changeCustomField', call, changeId).subscribe({
      next: (changed) => this.done(`${changed.name} is saved.`, changeId),
      error: (error: unknown) => {
        this.saving.refuse(error);
        this.loaded.again();
      },
    });
  }

  private done(words: string, changeId: string): void {
    this.undo.offer(words, changeId, () => this.loaded.again());
    this.startOver();
    this.loaded.again();
  }

  private blank(): { name: string; subject: CustomSubject; type: CustomFieldType; choices: string } {
    return { name: '', subject: 'contact', type: 'text', choices: '' };
  }
}
