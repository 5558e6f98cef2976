import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { FormControl, FormGroup } from '@angular/forms';
import type { Account, Role } from '@kettle/contract';
import { field, formParts, named, type Option, required } from '../../kit/form';

/** The controls of an account that may be changed. */
export const accountControls = ({ name, role, managerId }: Pick<Account, 'name' | 'role' | 'managerId'>) => ({
  name: required(name),
  role: field<Role>(role),
  managerId: field(managerId),
});

const roles: readonly Option<Role>[] = [
  { value: 'rep', words: $localize`rep: changes what is theirs` },
  { value: 'manager', words: $localize`manager: also what their people own` },
  { value: 'admin', words: $localize`admin: everything, settings too` },
];

/** Name, role and manager of an account; what else a form asks stands after the name. */
@Component({
  selector: 'kettle-account-fields',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts],
  template: `
    <kettle-text-field label="Name" i18n-label [formControl]="form().controls.name" startsHere />
    <ng-content />
    <kettle-choice-field label="Role" i18n-label [formControl]="form().controls.role" [options]="roles" />
    <kettle-choice-field
      label="Manager"
      i18n-label
      [formControl]="form().controls.managerId"
      [options]="leaders()"
    />
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-3);
    }
  `,
})
export class AccountFields {
  readonly form = input.required<
    FormGroup<{
      name: FormControl<string>;
      role: FormControl<Role>;
      managerId: FormControl<Account['managerId']>;
    }>
  >();
  readonly all = input.required<readonly Account[]>();
  /** Whose account it is: nobody leads themself. */
  readonly of = input<Account['id'] | null>(null);
  protected readonly roles = roles;
  protected readonly leaders = computed((): Option<Account['managerId']>[] => [
    { value: null, words: $localize`nobody: every manager leads them` },
    ...named(
      this.all().filter(({ id, role, state }) => role !== 'rep' && state === 'active' && id !== this.of()),
    ),
  ]);
}
