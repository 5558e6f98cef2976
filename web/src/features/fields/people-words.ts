import { sayCustomValue } from '@kettle/core/fields';
import { sayDate } from '@kettle/core/time';
import { CurrentUser } from '../../services/current-user';
import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { CustomField, CustomFieldType, CustomSubject, CustomValue } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading, wake } from '../../api/reading';
import { ChangeStream } from '../../services/change-stream';

/** Names behind ids, read once and kept in step: standings, colleagues, custom fields, people named in fields. */
@Injectable({ providedIn: 'root' })
export class PeopleWords {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly standingRead = reading((_: null) => this.api.call('listStandings'));
  private readonly colleagueRead = reading((_: null) => this.api.call('listColleagues'));
  private readonly fieldRead = reading((_: null) => this.api.call('listCustomFields'));
  private readonly tagRead = reading((_: null) => this.api.call('listTags'));
  private readonly named = signal<ReadonlyMap<string, string>>(new Map());
  private readonly asked = new Set<string>();

  readonly standings = computed(() => this.standingRead.value()?.standings ?? []);
  readonly colleagues = computed(() => this.colleagueRead.value()?.people ?? []);
  readonly fields = computed((): readonly CustomField[] => this.fieldRead.value()?.fields ?? []);
  /** Tags in use, the most used first. */
  readonly tags = computed(() => this.tagRead.value()?.tags.map(({ tag }) => tag) ?? []);
  private readonly standingNames = computed(
    () => new Map(this.standings().map(({ standing }) => [standing.id as string, standing.name])),
  );

  constructor() {
    const stream = inject(ChangeStream);
    stream
      .counted('contact', 'journal', 'import', 'setting')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.standingRead.again());
    stream
      .of('setting', 'user')
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        this.fieldRead.again();
        this.colleagueRead.again();
      });
  }

  /** Reads what is not known yet; every page that shows people asks for it. */
  wake(): void {
    wake(this.standingRead, this.colleagueRead, this.fieldRead);
  }

  /** The custom fields of contacts, companies, deals or leads, in their order. */
  fieldsOf(subject: CustomSubject): readonly CustomField[] {
    return this.fields().filter((field) => field.subject === subject);
  }

  /** Read whenever a form that has tags opens. */
  wakeTags(): void {
    this.tagRead.read(null);
  }

  standing(id: string): string {
    return this.standingNames().get(id) ?? '';
  }

  colleague(id: string | null): string {
    return this.colleagues().find((each) => each.id === id)?.name ?? 'nobody';
  }

  /** What a field of one's own says; a person is named, a date written as others are. */
  custom(value: CustomValue | undefined, type: CustomFieldType): string {
    if (typeof value === 'string' && type === 'date') return sayDate(value, this.user.today());
    if (typeof value === 'string' && type === 'person') return this.person(value);
    return sayCustomValue(value, type, this.user.currency());
  }

  /** What a record holds in its custom fields, those that are filled in. */
  customFacts(
    subject: CustomSubject,
    values: Readonly<Record<string, CustomValue>>,
  ): readonly { readonly name: string; readonly words: string }[] {
    return this.fieldsOf(subject)
      .map(({ id, name, type }) => ({ name, words: this.custom(values[id], type) }))
      .filter(({ words }) => words !== '');
  }

  /** A contact's name by id; asked for once, empty until it comes. */
  person(id: string): string {
    if (!this.asked.has(id)) {
      this.asked.add(id);
      this.api.call('getContact', { params: { id } }).subscribe({
        next: (contact) => this.named.update((names) => new Map(names).set(id, contact.name)),
        error: () => this.named.update((names) => new Map(names).set(id, 'gone')),
      });
    }
    return this.named().get(id) ?? '';
  }
}
