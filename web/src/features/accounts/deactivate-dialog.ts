import { sayCount } from '@kettle/core/locale';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Account, Owned } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { field, formParts, named, type Option, RecordForm } from '../../kit/form';
import { Waiting } from '../../kit/states';

const words: readonly (readonly [keyof Owned, string])[] = [
  ['contacts', $localize`person|people`],
  ['companies', $localize`company|companies`],
  ['leads', $localize`lead|leads`],
  ['deals', $localize`open deal|open deals`],
  ['tasks', $localize`open task|open tasks`],
  ['agreements', $localize`agreement|agreements`],
  ['runs', $localize`running cadence|running cadences`],
];

/** Ends somebody's access; says what they own, and asks who gets it. */
@Component({
  selector: 'kettle-deactivate-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, Waiting],
  template: `
    <kettle-dialog-form
      [title]="texts.deactivate(asked.account.name)"
      act="Deactivate"
      i18n-act
      [form]="form"
      [isReady]="owned.value() !== null"
      (save)="save()"
    >
      <p i18n>They are signed out at once and may not sign in again. What they did stays under their name.</p>
      @if (owned.value()) {
        @if (parts().length > 0) {
          <p i18n>They own {{ parts().join(', ') }}.</p>
          <kettle-choice-field
            label="Who gets all of it"
            i18n-label
            [formControl]="form.controls.handOverTo"
            [options]="heirs()"
          />
        } @else {
          <p i18n class="soft">They own nothing that has to be handed over.</p>
        }
      } @else {
        <kettle-waiting />
      }
    </kettle-dialog-form>
  `,
})
export class DeactivateDialog {
  protected readonly texts = {
    deactivate: (name: string | number) => $localize`Deactivate ${name}:name:`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<DeactivateDialog>);
  protected readonly asked = inject<{ account: Account; all: readonly Account[] }>(MAT_DIALOG_DATA);
  protected readonly owned = reading((id: Account['id']) => this.api.call('readOwned', { params: { id } }));
  protected readonly form = new RecordForm({ handOverTo: field<Account['id'] | null>(null) });
  protected readonly heirs = computed((): Option<Account['id'] | null>[] => [
    { value: null, words: this.mayBeNobody() ? $localize`nobody: it goes to the pool` : $localize`choose` },
    ...named(this.asked.all.filter(({ id, state }) => state === 'active' && id !== this.asked.account.id)),
  ]);
  protected readonly parts = computed(() => {
    const owned = this.owned.value();
    if (owned === null) return [];
    return words.flatMap(([key, forms]) => {
      const count = owned[key];
      return count === 0 ? [] : [sayCount(count, forms)];
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
