import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { DataPlace, RetentionKind, RetentionSettings } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Conflicts, Submission } from '../../kit/conflicts';
import { fieldParts } from '../../kit/field';
import { Failed, Waiting } from '../../kit/states';
import { Undo } from '../../services/undo';

const kinds: readonly { readonly kind: RetentionKind; readonly words: string }[] = [
  { kind: 'letGoMail', words: 'Mail that was dismissed' },
  { kind: 'rawMail', words: 'Mail as it arrived, beside what was read from it' },
  { kind: 'removed', words: 'Journal entries and files that were removed' },
  { kind: 'unknownCalls', words: 'Calls and texts of numbers nobody knows' },
  { kind: 'notifications', words: 'Notices to colleagues' },
  { kind: 'setAsideLeads', words: 'People of whom nothing is but a lead that was set aside' },
  { kind: 'securityLog', words: 'The log of security' },
];

const groups: readonly { readonly of: DataPlace['of']; readonly words: string }[] = [
  { of: 'customers', words: 'Of customers and prospects' },
  { of: 'both', words: 'Of customers and of colleagues' },
  { of: 'colleagues', words: 'Of colleagues' },
  { of: 'nobody', words: 'Of nobody' },
];

/** How long what is no longer needed is kept, and where personal data lies. */
@Component({
  selector: 'kettle-personal-data-part',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatButtonModule, Conflicts, Failed, FormsModule, Waiting],
  templateUrl: './personal-data-part.html',
  styleUrls: ['../settings/settings-part.scss', './personal-data.scss'],
})
export class PersonalDataPart {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly kinds = kinds;
  protected readonly stored = reading((_: null) => this.api.call('retentionSettings'));
  protected readonly chosen = linkedSignal((): RetentionSettings | null => this.stored.value());
  protected readonly places = reading((_: null) => this.api.call('dataPlaces'));
  protected readonly shown = computed(() =>
    groups.map((group) => ({
      ...group,
      places: (this.places.value()?.places ?? []).filter((place) => place.of === group.of),
    })),
  );
  protected readonly saving = new Submission();
  protected readonly labelOf = (path: string) => kinds.find(({ kind }) => kind === path)?.words ?? null;
  protected readonly sayOf = (_path: string, value: unknown) =>
    value === null ? 'kept with the record' : `after ${String(value)} days`;

  constructor() {
    this.stored.read(null);
    this.places.read(null);
  }

  /** An empty field keeps it. */
  protected set(kind: RetentionKind, days: number | null): void {
    this.chosen.update((chosen) => chosen && { ...chosen, [kind]: days });
  }

  protected save(): void {
    const chosen = this.chosen();
    if (chosen === null) return;
    const changeId = v7();
    this.api.call('changeRetentionSettings', { body: this.saving.bodyOf(chosen) }, changeId).subscribe({
      next: (saved) => {
        this.stored.put(saved);
        this.saving.clear();
        this.places.again();
        this.undo.offer('Saved: it holds from tonight on.', changeId, () => {
          this.stored.again();
          this.places.again();
        });
      },
      error: this.saving.refuse,
    });
  }
}
