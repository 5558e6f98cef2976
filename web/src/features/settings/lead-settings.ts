import { ChangeDetectionStrategy, Component, effect, inject, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatRadioModule } from '@angular/material/radio';
import type { CallOf, OwnerRule, WebForm } from '@kettle/contract';
import { sayCount } from '@kettle/core/time';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Failed, Waiting } from '../../kit/states';
import { Conflicts, Submission } from '../../kit/conflicts';
import { choiceParts } from '../../kit/choice';
import { Undo } from '../../services/undo';
import { PeopleWords } from '../fields/index';

interface TypedRegion {
  country: string;
  places: string;
  userId: string;
}

type Kind = OwnerRule['kind'];
const kinds: readonly { kind: Kind; words: string }[] = [
  { kind: 'pool', words: 'the pool: whoever takes it first' },
  { kind: 'in-turn', words: 'in turn: who had none for longest' },
  { kind: 'load', words: 'by load: who has the fewest' },
  { kind: 'region', words: 'by region' },
];

type TypedForm = Omit<
  WebForm,
  'id' | 'key' | 'leads' | 'trapped' | 'address' | 'version' | 'origins' | 'campaign'
> & {
  form: WebForm | null;
  origins: string;
  campaign: string;
};

const newForm = (): TypedForm => ({
  form: null,
  name: '',
  title: 'Ask us',
  asksPhone: true,
  asksCompany: true,
  asksPostcode: false,
  confirmsConsent: false,
  consentWords: 'You may write and call me about this. I can take that back at any time.',
  thanks: 'Thank you. Somebody answers you within a working day.',
  source: 'web site',
  campaign: '',
  isOpen: true,
  origins: '',
});

const typedForm = ({ id, key, leads, trapped, address, version, ...fields }: WebForm): TypedForm => ({
  ...fields,
  form: { id, key, leads, trapped, address, version, ...fields },
  origins: fields.origins.join('\n'),
  campaign: fields.campaign ?? '',
});

/** Who gets new leads, and the forms for the web that bring them. */
@Component({
  selector: 'kettle-lead-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    Failed,
    Waiting,
    MatRadioModule,
    choiceParts,
    MatCheckboxModule,
    MatButtonModule,
    Conflicts,
    FormsModule,
  ],
  templateUrl: './lead-settings.html',
  styleUrl: './settings-part.scss',
  styles: `
    .region {
      display: grid;
      grid-template-columns: 72px 1fr 180px auto;
      align-items: end;
      gap: var(--space-2);
      inline-size: 100%;
    }
    section + section {
      padding-block-start: var(--space-5);
    }
    code {
      overflow-wrap: anywhere;
      font-size: var(--text-small);
    }
    .form {
      padding-block: var(--space-3);
      border-block-start: 1px solid var(--hairline);
    }
  `,
})
export class LeadSettingsPart {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly people = inject(PeopleWords);
  protected readonly kinds = kinds;
  protected readonly count = sayCount;
  protected readonly stored = reading((_: null) => this.api.call('leadSettings'));
  private version = 1;
  private readonly forms = reading((_: null) => this.api.call('listWebForms'));
  protected readonly kind = signal<Kind>('pool');
  protected readonly picked = signal<ReadonlySet<string>>(new Set());
  protected readonly regions = signal<TypedRegion[]>([]);
  protected readonly rest = signal<Exclude<Kind, 'region'>>('pool');
  protected readonly saving = new Submission();
  protected readonly labelOf = () => 'Who gets new leads';
  protected readonly typed = signal<TypedForm[]>([]);
  /** Of the form that was saved last. */
  protected readonly formSaving = new Submission();
  protected readonly savedForm = signal<TypedForm | null>(null);

  constructor() {
    this.people.wake();
    this.stored.read(null);
    this.forms.read(null);
    effect(() => {
      const read = this.stored.value();
      untracked(() => {
        if (read === null) return;
        this.version = read.version;
        this.fill(read.ownerRule);
      });
    });
    effect(() => {
      const known = this.forms.value();
      // Not before they are read: what is typed meanwhile would be written over.
      if (known !== null) untracked(() => this.typed.set([...known.forms.map(typedForm), newForm()]));
    });
  }

  private fill(rule: OwnerRule): void {
    this.kind.set(rule.kind);
    const rest = rule.kind === 'region' ? rule.otherwise : rule;
    this.picked.set(new Set('userIds' in rest ? rest.userIds : []));
    if (rule.kind !== 'region') return;
    this.rest.set(rule.otherwise.kind);
    this.regions.set(
      rule.regions.map(({ country, places, userId }) => ({ country, places: places.join(', '), userId })),
    );
  }

  protected choose(kind: Kind): void {
    this.kind.set(kind);
    if (kind === 'region' && this.regions().length === 0) this.addRegion();
  }

  protected turn(id: string): void {
    this.picked.update((ids) => new Set(ids.has(id) ? [...ids].filter((each) => each !== id) : [...ids, id]));
  }

  protected addRegion(): void {
    this.regions.update((all) => [...all, { country: 'GB', places: '', userId: '' }]);
  }

  protected dropRegion(at: number): void {
    this.regions.update((all) => all.filter((_, index) => index !== at));
  }

  protected save(): void {
    const simple = (kind: Exclude<Kind, 'region'>) =>
      kind === 'pool' ? { kind } : { kind, userIds: [...this.picked()] };
    const kind = this.kind();
    const places = (text: string) =>
      text
        .split(',')
        .map((place) => place.trim())
        .filter(Boolean);
    const ownerRule =
      kind === 'region'
        ? {
            kind,
            regions: this.regions().map((region) => ({ ...region, places: places(region.places) })),
            otherwise: simple(this.rest()),
          }
        : simple(kind);
    const body = {
      version: this.version,
      ownerRule,
    } as NonNullable<CallOf<'changeLeadSettings'>['body']>;
    const changeId = v7();
    this.api.call('changeLeadSettings', { body: this.saving.bodyOf(body) }, changeId).subscribe({
      next: (saved) => {
        this.saving.clear();
        this.stored.put(saved);
        this.undo.offer('New leads follow this rule from now on.', changeId, () => this.stored.again());
      },
      error: this.saving.refuse,
    });
  }

  protected embedOf(form: WebForm): string {
    return `<iframe src="${form.address}" title="${form.title.replaceAll('"', '&quot;')}" style="width:100%;height:720px;border:0"></iframe>`;
  }

  protected saveForm(typed: TypedForm): void {
    const { form, origins, campaign, ...fields } = typed;
    const body = {
      ...fields,
      campaign: campaign.trim() || null,
      origins: origins
        .split('\n')
        .map((origin) => origin.trim())
        .filter(Boolean),
    };
    const changeId = v7();
    if (this.savedForm() !== typed) this.formSaving.clear();
    this.savedForm.set(typed);
    const asked = form
      ? this.api.call(
          'changeWebForm',
          { params: { id: form.id }, body: { ...this.formSaving.bodyOf(body), version: form.version } },
          changeId,
        )
      : this.api.call('createWebForm', { body }, changeId);
    asked.subscribe({
      next: (saved) => {
        this.formSaving.clear();
        // The others stay as they were typed; one that was new leaves room for another.
        this.typed.update((all) => [
          ...all.map((each) => (each === typed ? typedForm(saved) : each)),
          ...(form ? [] : [newForm()]),
        ]);
        this.undo.offer(`The form ${saved.name} is saved.`, changeId, () => this.forms.again());
      },
      error: this.formSaving.refuse,
    });
  }

  /** What is wrong with a field of a form, if it is the one that was refused. */
  protected wrongIn(form: TypedForm, field: string): string | null {
    if (this.savedForm() !== form) return null;
    const found = this.formSaving
      .problem()
      ?.fields.find(({ path }) => path === field || path.startsWith(`${field}.`));
    return found?.message ?? null;
  }
}
