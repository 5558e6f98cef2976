import { LongChoiceField } from '../../kit/long-choice-field';
import { countryOptions } from '../../kit/places';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { FormArray, FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatRadioModule } from '@angular/material/radio';
import type { CallOf, OwnerRule, WebForm } from '@kettle/contract';

import { v7 } from 'uuid';
import { CountPipe } from '../../kit/say.pipes';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { field, keptSettings, named, type Option, pageFormParts, RecordForm, required } from '../../kit/form';
import { Undo } from '../../services/undo';
import { PeopleWords } from '../fields/index';

type Kind = OwnerRule['kind'];
type Region =
  Extract<OwnerRule, { kind: 'region' }>['regions'][number] | { country: string; places: []; userId: '' };
type Body = NonNullable<CallOf<'changeLeadSettings'>['body']>;
const kinds: readonly { kind: Kind; words: string }[] = [
  { kind: 'pool', words: $localize`the pool: whoever takes it first` },
  { kind: 'in-turn', words: $localize`in turn: who had none for longest` },
  { kind: 'load', words: $localize`by load: who has the fewest` },
  { kind: 'region', words: $localize`by region` },
];

const regionControls = ({ country, places, userId }: Region) =>
  new FormGroup({
    country: required<string>(country),
    places: field(places.join(', ')),
    userId: required<string>(userId),
  });

const newForm: Omit<WebForm, 'id' | 'key' | 'leads' | 'trapped' | 'address' | 'version'> = {
  name: '',
  title: $localize`Ask us`,
  asksPhone: true,
  asksCompany: true,
  asksPostcode: false,
  confirmsConsent: false,
  consentWords: $localize`You may write and call me about this. I can take that back at any time.`,
  thanks: $localize`Thank you. Somebody answers you within a working day.`,
  source: $localize`web site`,
  campaign: '',
  isOpen: true,
  origins: [],
};

/** A form for the web as it is typed; the last one is new. */
const typedForm = (stored: WebForm | null) => {
  const fields = stored ?? newForm;
  return {
    stored,
    form: new RecordForm({
      name: required(fields.name),
      title: required(fields.title),
      consentWords: required(fields.consentWords),
      thanks: required(fields.thanks),
      source: required(fields.source),
      campaign: field(fields.campaign ?? ''),
      origins: field(fields.origins.join('\n')),
      asksPhone: field(fields.asksPhone),
      asksCompany: field(fields.asksCompany),
      asksPostcode: field(fields.asksPostcode),
      confirmsConsent: field(fields.confirmsConsent),
      isOpen: field(fields.isOpen),
    }),
  };
};
type TypedForm = ReturnType<typeof typedForm>;

/** @example parts('TR, Camborne', ',') // ['TR', 'Camborne'] */
const parts = (text: string, between: string): string[] =>
  text
    .split(between)
    .map((part) => part.trim())
    .filter(Boolean);

/** Who gets new leads, and the forms for the web that bring them. */
@Component({
  selector: 'kettle-lead-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CountPipe, LongChoiceField, MatRadioModule, pageFormParts, MatCheckboxModule, MatButtonModule],
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
  protected readonly texts = {
    leads: $localize`lead|leads`,
    sendings: $localize`sending|sendings`,
    aNewForm: $localize`A new form`,
    save: $localize`Save`,
    createForm: $localize`Create form`,
  };

  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly people = inject(PeopleWords);
  protected readonly kinds = kinds;
  protected readonly form = new RecordForm({
    ownerRule: new FormGroup({
      kind: field<Kind>('pool'),
      regions: new FormArray<ReturnType<typeof regionControls>>([]),
      otherwise: field<Exclude<Kind, 'region'>>('pool'),
      userIds: field<readonly string[]>([]),
    }),
  });
  protected readonly rule = this.form.controls.ownerRule.controls;
  protected readonly settings = keptSettings(this.form, {
    read: () => this.api.call('leadSettings'),
    save: (body: Body, changeId) => this.api.call('changeLeadSettings', { body }, changeId),
    fill: ({ ownerRule }) => this.fill(ownerRule),
    body: ({ version }) => ({ version, ownerRule: this.sent() }) as Body,
    saved: $localize`New leads follow this rule from now on.`,
  });
  protected readonly countries = countryOptions();
  protected readonly rests: readonly Option<Exclude<Kind, 'region'>>[] = [
    { value: 'pool', words: $localize`the pool` },
    { value: 'in-turn', words: $localize`in turn` },
    { value: 'load', words: $localize`by load` },
  ];
  protected readonly colleagues = computed(() => named<string>(this.people.colleagues()));
  protected readonly labelOf = () => $localize`Who gets new leads`;
  private readonly webForms = reading((_: null) => this.api.call('listWebForms'));
  protected readonly typed = signal<readonly TypedForm[]>([]);

  constructor() {
    this.people.wake();
    this.webForms.read(null);
    effect(() => {
      const known = this.webForms.value();
      // Not before they are read: what is typed meanwhile would be written over.
      if (known !== null) untracked(() => this.typed.set([...known.forms, null].map(typedForm)));
    });
    this.rule.kind.valueChanges.subscribe((kind) => {
      if (kind === 'region' && this.rule.regions.length === 0) this.addRegion();
    });
  }

  private fill(rule: OwnerRule): void {
    const { regions } = this.rule;
    regions.clear();
    if (rule.kind === 'region') for (const region of rule.regions) regions.push(regionControls(region));
    const rest = rule.kind === 'region' ? rule.otherwise : rule;
    this.form.controls.ownerRule.patchValue({
      kind: rule.kind,
      otherwise: rest.kind,
      userIds: 'userIds' in rest ? rest.userIds : [],
    });
  }

  private sent(): object {
    const { kind, regions, otherwise, userIds } = this.form.controls.ownerRule.getRawValue();
    const simple = (by: Exclude<Kind, 'region'>) => (by === 'pool' ? { kind: by } : { kind: by, userIds });
    if (kind !== 'region') return simple(kind);
    return {
      kind,
      regions: regions.map(({ places, ...region }) => ({ ...region, places: parts(places, ',') })),
      otherwise: simple(otherwise),
    };
  }

  /** Whether it goes round among some. */
  protected asksAmong(): boolean {
    const { kind, otherwise } = this.rule;
    return kind.value !== 'pool' && (kind.value !== 'region' || otherwise.value !== 'pool');
  }

  protected turn(id: string): void {
    const { userIds } = this.rule;
    const without = userIds.value.filter((each) => each !== id);
    userIds.setValue(without.length < userIds.value.length ? without : [...without, id]);
  }

  protected addRegion(): void {
    this.rule.regions.push(regionControls({ country: 'GB', places: [], userId: '' }));
  }

  protected embedOf(form: WebForm): string {
    return `<iframe src="${form.address}" title="${form.title.replaceAll('"', '&quot;')}" style="width:100%;height:720px;border:0"></iframe>`;
  }

  protected saveForm(typed: TypedForm): void {
    const { stored, form } = typed;
    const { origins, campaign, ...fields } = form.getRawValue();
    const body = { ...fields, campaign: campaign.trim() || null, origins: parts(origins, '\n') };
    const changeId = v7();
    const done = (saved: WebForm) => {
      // The others stay as they were typed; one that was new leaves room for another.
      this.typed.update((all) => [
        ...all.map((each) => (each === typed ? typedForm(saved) : each)),
        ...(stored ? [] : [typedForm(null)]),
      ]);
      this.undo.offer($localize`The form ${saved.name} is saved.`, changeId, () => this.webForms.again());
    };
    if (stored === null)
      form.send(body, (sent) => this.api.call('createWebForm', { body: sent }, changeId), done);
    else
      form.send(
        { ...body, version: stored.version },
        (sent) => this.api.call('changeWebForm', { params: { id: stored.id }, body: sent }, changeId),
        done,
      );
  }

  /** Of the sites, which are lines of one field. */
  protected wrongSite({ form }: TypedForm): string | null {
    const fields = form.submission.problem()?.fields ?? [];
    return fields.find(({ path }) => path.startsWith('origins.'))?.message ?? null;
  }
}
