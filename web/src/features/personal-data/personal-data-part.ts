import { tableParts } from '../../kit/table';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { FormControl } from '@angular/forms';
import type { DataPlace, RetentionKind, RetentionSettings } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { field, keptSettings, pageFormParts, RecordForm } from '../../kit/form';
import { Failed } from '../../kit/states';

const kinds: readonly { readonly kind: RetentionKind; readonly words: string }[] = [
  { kind: 'letGoMail', words: $localize`Mail that was dismissed` },
  { kind: 'rawMail', words: $localize`Mail as it arrived, beside what was read from it` },
  { kind: 'removed', words: $localize`Journal entries and files that were removed` },
  { kind: 'unknownCalls', words: $localize`Calls and texts of numbers nobody knows` },
  { kind: 'notifications', words: $localize`Notices to colleagues` },
  { kind: 'setAsideLeads', words: $localize`People of whom nothing is but a lead that was set aside` },
  { kind: 'securityLog', words: $localize`The log of security` },
];

const groups: readonly { readonly of: DataPlace['of']; readonly words: string }[] = [
  { of: 'customers', words: $localize`Of customers and prospects` },
  { of: 'both', words: $localize`Of customers and of colleagues` },
  { of: 'colleagues', words: $localize`Of colleagues` },
  { of: 'nobody', words: $localize`Of nobody` },
];

/** How long what is no longer needed is kept, and where personal data lies. */
@Component({
  selector: 'kettle-personal-data-part',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [tableParts, pageFormParts, Failed],
  templateUrl: './personal-data-part.html',
  styleUrls: ['../settings/settings-part.scss', './personal-data.scss'],
})
export class PersonalDataPart {
  protected readonly texts = {
    whatIsHeld: $localize`What is held`,
  };

  private readonly api = inject(Api);
  protected readonly kinds = kinds;
  protected readonly form = new RecordForm(
    Object.fromEntries(kinds.map(({ kind }) => [kind, field<number | null>(null)])) as Record<
      RetentionKind,
      FormControl<number | null>
    >,
  );
  protected readonly settings = keptSettings(this.form, {
    read: () => this.api.call('retentionSettings'),
    save: (body: RetentionSettings, changeId) => this.api.call('changeRetentionSettings', { body }, changeId),
    saved: $localize`Saved: it holds from tonight on.`,
    after: () => this.places.again(),
  });
  protected readonly places = reading((_: null) => this.api.call('dataPlaces'));
  protected readonly shown = computed(() =>
    groups.map((group) => ({
      ...group,
      places: (this.places.value()?.places ?? []).filter((place) => place.of === group.of),
    })),
  );
  protected readonly labelOf = (path: string) => kinds.find(({ kind }) => kind === path)?.words ?? null;
  protected readonly sayOf = (_path: string, value: unknown) =>
    value === null ? $localize`kept with the record` : $localize`after ${String(value)} days`;

  constructor() {
    this.places.read(null);
  }
}
