import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { RecordRef } from '../../services/selected-record';
import { Dossier } from './dossier';

/** The dossier as a page of its own, with its own address. */
@Component({
  selector: 'kettle-dossier-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Dossier],
  template: `
    <kettle-dossier [record]="record()" [opens]="part()" />
  `,
  styles: `
    :host {
      --beside-buttons: var(--space-4);
      display: block;
      max-inline-size: 860px;
    }
  `,
})
export class DossierPage {
  /** From the route's path and data. */
  readonly id = input.required<string>();
  readonly kind = input.required<RecordRef['kind']>();
  /** From the address. */
  readonly part = input<'talk'>();
  protected readonly record = computed((): RecordRef => ({ kind: this.kind(), id: this.id() }));
}
