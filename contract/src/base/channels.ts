/** What a way to reach a person can do. */
export interface ChannelKind {
  /** As people call it. */
  readonly label: string;
  /** What a person does on it. */
  readonly verb: string;
  /** What of a contact it needs; null is reached without. */
  readonly needs: 'phone' | 'email' | null;
  /** Minutes it usually takes. */
  readonly minutes: number;
  /** It happens at an appointed time: it takes place or it does not, and things are done at it. */
  readonly isMet?: boolean;
  /** A text is written, and sent from here. */
  readonly isWritten?: boolean;
  /** A person is offered it in their dossier, and may say they do not want it. */
  readonly isOffered: boolean;
  /** When tries on another channel stay unanswered: the order in which this one is tried instead; null is not. */
  readonly insteadAt: number | null;
}

/** One table: a new channel is one more line here, its outcomes (`core/touch/outcomes.ts`), its icon, and a column's words in the database. */
export const channelKinds = {
  call: {
    label: $localize`Call`,
    verb: $localize`Call`,
    needs: 'phone',
    minutes: 6,
    isOffered: true,
    insteadAt: 2,
  },
  email: {
    label: $localize`E-mail`,
    verb: $localize`Write`,
    needs: 'email',
    minutes: 5,
    isWritten: true,
    isOffered: true,
    insteadAt: 1,
  },
  text: {
    label: $localize`Text`,
    verb: $localize`Text`,
    needs: 'phone',
    minutes: 2,
    isWritten: true,
    isOffered: true,
    insteadAt: 3,
  },
  meeting: {
    label: $localize`Meeting`,
    verb: $localize`Meet`,
    needs: null,
    minutes: 45,
    isMet: true,
    isOffered: true,
    insteadAt: null,
  },
  visit: {
    label: $localize`Visit`,
    verb: $localize`Visit`,
    needs: null,
    minutes: 45,
    isMet: true,
    isOffered: true,
    insteadAt: 4,
  },
  other: {
    label: $localize`Other`,
    verb: $localize`See to it`,
    needs: null,
    minutes: 10,
    isOffered: false,
    insteadAt: null,
  },
} as const satisfies Record<string, ChannelKind>;

export type ChannelName = keyof typeof channelKinds;

/** Channels in the order in which people are shown them. */
export const channelNames = Object.keys(channelKinds) as readonly ChannelName[];

export const channelKindOf = (channel: ChannelName): ChannelKind => channelKinds[channel];

/** The same of each channel, by its name. */
export const ofChannels = <Made>(make: (kind: ChannelKind, channel: ChannelName) => Made) =>
  Object.fromEntries(channelNames.map((name) => [name, make(channelKindOf(name), name)])) as Record<
    ChannelName,
    Made
  >;

/** Those that can do something, in their order. */
export const channelsThat = (can: (kind: ChannelKind) => boolean): readonly ChannelName[] =>
  channelNames.filter((name) => can(channelKindOf(name)));

/** Minutes each usually takes, until the organisation says otherwise. */
export const usualMinutes: Readonly<Record<ChannelName, number>> = ofChannels(({ minutes }) => minutes);
