import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { Account, Role } from '@kettle/contract';
import type { ApiProblem } from '../../api/api';
import { choiceParts } from '../../kit/choice';

export interface AccountDraft {
  readonly name: string;
  readonly email: string | null;
  readonly role: Role;
  readonly managerId: Account['managerId'];
}

/** Name, role and manager of an account; its address too, while it is new. */
@Component({
  selector: 'kettle-account-fields',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [choiceParts, FormsModule],
  template: `
    <mat-form-field>
      <mat-label>Name</mat-label>
      <input
        matInput
        name="name"
        [ngModel]="draft().name"
        (ngModelChange)="set({ name: $event })"
        required
        autocomplete="off"
        [kettleProblem]="problem()?.of('name')"
      />
      @if (problem()?.of('name'); as wrong) {
        <mat-error>{{ wrong }}</mat-error>
      }
    </mat-form-field>
    @if (draft().email !== null) {
      <mat-form-field>
        <mat-label>E-mail address</mat-label>
        <input
          matInput
          name="email"
          type="email"
          [ngModel]="draft().email"
          (ngModelChange)="set({ email: $event })"
          required
          autocomplete="off"
          [kettleProblem]="problem()?.of('email')"
        />
        @if (problem()?.of('email'); as wrong) {
          <mat-error>{{ wrong }}</mat-error>
        }
      </mat-form-field>
    }
    <mat-form-field>
      <mat-label>Role</mat-label>
      <mat-select
        name="role"
        [ngModel]="draft().role"
        (ngModelChange)="set({ role: $event })"
        [kettleProblem]="problem()?.of('role')"
      >
        <mat-option value="rep">rep: changes what is theirs</mat-option>
        <mat-option value="manager">manager: also what their people own</mat-option>
        <mat-option value="admin">admin: everything, settings too</mat-option>
      </mat-select>
      @if (problem()?.of('role'); as wrong) {
        <mat-error>{{ wrong }}</mat-error>
      }
    </mat-form-field>
    <mat-form-field>
      <mat-label>Manager</mat-label>
      <mat-select
        name="manager"
        [ngModel]="draft().managerId"
        (ngModelChange)="set({ managerId: $event })"
        [kettleProblem]="problem()?.of('managerId')"
      >
        <mat-option [value]="null">nobody: every manager leads them</mat-option>
        @for (each of leaders(); track each.id) {
          <mat-option [value]="each.id">{{ each.name }}</mat-option>
        }
      </mat-select>
      @if (problem()?.of('managerId'); as wrong) {
        <mat-error>{{ wrong }}</mat-error>
      }
    </mat-form-field>
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-3);
    }
  `,
})
export class AccountFields {
  readonly draft = model.required<AccountDraft>();
  readonly all = input.required<readonly Account[]>();
  /** Whose account it is: nobody leads themself. */
  readonly of = input<Account['id'] | null>(null);
  readonly problem = input<ApiProblem | null>(null);
  protected readonly leaders = computed(() =>
    this.all().filter(({ id, role, state }) => role !== 'rep' && state === 'active' && id !== this.of()),
  );

  protected set(part: Partial<AccountDraft>): void {
    this.draft.update((draft) => ({ ...draft, ...part }));
  }
}
