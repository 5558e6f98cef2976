import { sayCount } from '@kettle/core/locale';
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
import { FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatRadioModule } from '@angular/material/radio';
import { Router, RouterLink } from '@angular/router';
import type { CallOf, QualifyPlan } from '@kettle/contract';
import { addDays } from '@kettle/core/time';
import { tap } from 'rxjs';
import { Api, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { DayField } from '../../kit/day-field';
import { field, formParts, RecordForm, required } from '../../kit/form';
import { MoneyPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { DealWords, firstStepControls, FirstStepFields, nextOf, StageField } from '../deals/index';
import { PeopleWords } from '../fields/index';
import { WordPipe } from '../../kit/value-words';

const usualDaysToClose = 60;

/** One screen that makes person, company and deal of a lead; who and what is known already stands first. */
@Component({
  selector: 'kettle-qualify-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    WordPipe,
    MatRadioModule,
    DayField,
    formParts,
    MatButtonModule,
    RouterLink,
    MoneyPipe,
    FirstStepFields,
    StageField,
    Failed,
    Waiting,
  ],
  templateUrl: './qualify-page.html',
  styleUrl: './qualify-page.scss',
})
export class QualifyPage {
  protected readonly texts = {
    somebodyElseThanThose: $localize`somebody else than those above`,
    asTheLeadHas: $localize`as the
            lead has them`,
  };

  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly notices = inject(Notices);
  protected readonly user = inject(CurrentUser);
  protected readonly words = inject(DealWords);
  protected readonly people = inject(PeopleWords);
  readonly id = input.required<string>();

  protected readonly plan = reading((id: string) => this.api.call('planQualify', { params: { id } }));
  /** 'same', or the id of somebody known. */
  protected readonly person = signal('same');
  /** 'none', 'new', or the id of a company. */
  protected readonly company = signal('none');
  protected readonly standings = computed(() => [
    { value: null as string | null, words: $localize`as it is` },
    ...this.people
      .standings()
      .filter(({ standing }) => standing.group === 'prospect')
      .map(({ standing }) => ({ value: standing.id as string, words: standing.name })),
  ]);
  protected readonly form = new RecordForm({
    standingId: field<string | null>(null),
    company: new FormGroup({ name: required(''), city: field('') }),
    deal: new FormGroup({
      name: required(''),
      stageId: field<string>(''),
      amountMinor: required<number>(null),
      expectedCloseOn: field(this.user.workdayFrom(addDays(this.user.today(), usualDaysToClose))),
      next: firstStepControls(this.user.nextWorkday()),
    }),
  });
  protected readonly deal = this.form.controls.deal.controls;
  private isFilled = false;

  constructor() {
    this.words.wake();
    effect(() => {
      const id = this.id();
      untracked(() => this.plan.read(id));
    });
    effect(() => {
      const plan = this.plan.value();
      untracked(() => plan && this.fill(plan));
    });
    effect(() => {
      const [first] = this.words.stages();
      if (this.deal.stageId.value === '' && first) this.deal.stageId.setValue(first.id);
    });
    effect(() => {
      const { company } = this.form.controls;
      if (this.company() === 'new') company.enable();
      else company.disable();
    });
  }

  /** What is most likely is chosen already; a person can choose otherwise. */
  private fill({ lead, people, companies }: QualifyPlan): void {
    if (this.isFilled) return;
    this.isFilled = true;
    const certain = people.find(({ likeness }) => likeness === 'certain');
    if (certain) this.person.set(certain.contact.id);
    const [known] = companies;
    this.company.set(known?.id ?? (lead.companyName ? 'new' : 'none'));
    this.form.controls.company.controls.name.setValue(lead.companyName ?? '');
    this.deal.name.setValue(
      lead.companyName ? `${lead.companyName}: ${lead.subject}`.slice(0, 160) : lead.subject,
    );
  }

  /** What comes along, as far as there is any. */
  protected broughtWords({ brings }: QualifyPlan): string {
    const words = [
      [brings.entries, $localize`journal entry|journal entries`],
      [brings.tasks, $localize`open task|open tasks`],
      [brings.runs, $localize`cadence|cadences`],
      [brings.files, $localize`file|files`],
    ] as const;
    const known = [
      ...words.filter(([count]) => count > 0).map(([count, forms]) => sayCount(count, forms)),
      ...brings.fields,
    ];
    return known.length === 0
      ? $localize`nothing has happened with it yet`
      : $localize`${known.join(', ')} come along`;
  }

  protected save(plan: QualifyPlan): void {
    const { standingId, deal } = this.form.getRawValue();
    const body = {
      version: plan.lead.version,
      person: this.chosenPerson(plan),
      company: this.chosenCompany(),
      standingId,
      deal: {
        ...deal,
        expectedCloseOn: deal.expectedCloseOn || null,
        next: nextOf(this.deal.next, this.user.minutes()),
      },
    } as NonNullable<CallOf<'qualifyLead'>['body']>;
    this.form.send(
      body,
      (sent) =>
        this.api.call('qualifyLead', { params: { id: plan.lead.id }, body: sent }).pipe(
          tap({
            error: (error: unknown) => {
              // Somebody changed the lead meanwhile: it is read again, what was typed stands.
              if (problemOf(error).code === 'stale') this.plan.again();
            },
          }),
        ),
      (lead) => {
        void this.router.navigate(['/deals', lead.dealId]);
        this.notices.say($localize`${lead.contactName} is qualified.`, () =>
          this.api.call('unqualifyLead', { params: { id: lead.id } }).subscribe({
            next: () => void this.router.navigate(['/deals/leads', lead.id]),
            error: (error: unknown) => this.notices.problem(error),
          }),
        );
      },
    );
  }

  private chosenPerson({ people }: QualifyPlan) {
    const known = people.find(({ contact }) => contact.id === this.person());
    return known
      ? { kind: 'merge', contactId: known.contact.id, version: known.contact.version }
      : { kind: 'same' };
  }

  private chosenCompany() {
    if (this.company() === 'none') return { kind: 'none' };
    const { name, city } = this.form.getRawValue().company;
    if (this.company() === 'new') return { kind: 'new', name, city: city.trim() || null };
    return { kind: 'known', companyId: this.company() };
  }
}
