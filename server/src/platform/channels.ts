import type { MailOut } from '../processes/mail/index';
import type { FetchOutside } from './outside/fetch-outside';
import type { PhoneLine, TextGateway } from '../processes/telephone/index';

/** What reaches outside. A way that is not set up is null, and whoever wants it is told so. */
export interface Channels {
  readonly mailOut: MailOut | null;
  readonly textGateway: TextGateway | null;
  readonly phoneLine: PhoneLine | null;
  /** The address people outside reach this server at; links in mails begin with it. */
  readonly publicOrigin: string;
  /** The right-hand side of our Message-IDs, and the domain of the addresses for returns and unsubscribing. */
  readonly mailDomain: string;
  /** Whose `Authentication-Results` are believed; null: nobody's. */
  readonly mailAuthority: string | null;
  /** Asks addresses that people typed: calendars elsewhere. */
  readonly fetchOutside: FetchOutside;
  /** Signs what gateways tell us; null while none is set up. */
  readonly gatewaySecret: string | null;
}
