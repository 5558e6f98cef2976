import { sayCount } from '@kettle/core/locale';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Account, Owned } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { field, formParts, named, type Option, RecordForm } from '../../kit/form';
import { Waiting } from '../../kit/states';

const words: readonly (readonly [keyof Owned, string, string])[] = [
  ['contacts', 'person', 'people'],
  ['companies', 'company', 'companies'],
  ['leads', 'lead', 'leads'],
  ['deals', 'open deal', 'open deals'],
  ['tasks', 'open task', 'open tasks'],
  ['agreements', 'agreement', 'agreements'],
  ['runs', 'running cadence', 'running cadences'],
];

/** Ends somebody's access; says what they own, and asks who gets it. */
@Component({
  selector: 'kettle-deactivate-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, Waiting],
  template: `
    <kettle-dialog-form
      [title]="'Deactivate ' + asked.account.name"
      act="Deactivate"
      [form]="form"
      [isReady]="owned.value() !== null"
      (save)="save()"
    >
      <p>They are signed out at once and may not sign in again. What they did stays under their name.</p>
      @if (owned.value()) {
        @if (parts().length > 0) {
          <p>They own {{ parts().join(', ') }}.</p>
          <kettle-choice-field
            label="Who gets all of it"
            [formControl]="form.controls.handOverTo"
            [options]="heirs()"
          />
        } @else {
          <p class="soft">They own nothing that has to be handed over.</p>
        }
      } @else {
        <kettle-waiting />
      }
    </kettle-dialog-form>
  `,
})
export class DeactivateDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<DeactivateDialog>);
  protected readonly asked = inject<{ account: Account; all: readonly Account[] }>(MAT_DIALOG_DATA);
  protected readonly owned = reading((id: Account['id']) => this.api.call('readOwned', { params: { id } }));
  protected readonly form = new RecordForm({ handOverTo: field<Account['id'] | null>(null) });
  protected readonly heirs = computed((): Option<Account['id'] | null>[] => [
    { value: null, words: this.mayBeNobody() ? 'nobody: it goes to the pool' : 'choose' },
    ...named(this.asked.all.filter(({ id, state }) => state === 'active' && id !== this.asked.account.id)),
  ]);
  protected readonly parts = computed(() => {
    const owned = this.owned.value();
    if (owned === null) return [];
    return words.flatMap(([key, one, many]) => {
      const count = owned[key];
      return count === 0 ? [] : [sayCount(count, one, many)];
    });
  });
  protected readonly mayBeNobody = computed(() => {
    const owned = this.owned.value();
    return owned !== null && owned.deals + owned.tasks + owned.agreements + owned.runs === 0;
  });

  constructor() {
    this.owned.read(this.asked.account.id);
  }

  protected save(): void {
    const changeId = v7();
    const params = { id: this.asked.account.id };
    this.form.send(
      this.form.getRawValue(),
      (body) => this.api.call('deactivate', { params, body }, changeId),
      () => this.dialog.close(changeId),
    );
  }
}
