import { ublOf, type Xml } from '@kettle/core/invoices';
import { create } from 'xmlbuilder2';
import type { XMLBuilder } from 'xmlbuilder2/lib/interfaces';
import type { InvoiceContent } from './content';

/** What XML 1.0 cannot say: most control characters, and halves of pairs. */
const unsayable =
  // eslint-disable-next-line no-control-regex -- these are what is taken out
  /[\u0000-\u0008\u000B\u000C\u000E-\u001F\uFFFE\uFFFF]|[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/g;

/** An invoice as UBL 2.1. */
export function writeUbl(content: InvoiceContent): string {
  const document = create({ version: '1.0', encoding: 'UTF-8' });
  add(document, ublOf(content));
  return document.end({ prettyPrint: true, wellFormed: true });
}

function add(parent: XMLBuilder, { name, attributes = {}, content }: Xml): void {
  const element = parent.ele(name, attributes);
  if (typeof content === 'string') element.txt(content.replace(unsayable, ''));
  else for (const each of content) if (each !== null) add(element, each);
}
