const formats = new Map<string, Intl.NumberFormat>();

/** Money for reading, without pence from 100 up. @example sayMoney(40900, 'GBP') is '£409'; sayMoney(950, 'GBP') is '£9.50' */
export function sayMoney(amountMinor: number, currency: string): string {
  const major = amountMinor / 100;
  const digits = Math.abs(major) >= 100 || amountMinor % 100 === 0 ? 0 : 2;
  return formatOf(currency, digits).format(major);
}

/** An estimate for reading: whole units from ten up. @example sayRoughly(4469, 'GBP') is '£45' */
export function sayRoughly(amountMinor: number, currency: string): string {
  return sayMoney(
    Math.abs(amountMinor) >= 1000 ? Math.round(amountMinor / 100) * 100 : Math.round(amountMinor),
    currency,
  );
}

function formatOf(currency: string, digits: number): Intl.NumberFormat {
  const key = `${currency}${digits}`;
  const known = formats.get(key);
  if (known) return known;
  const made = new Intl.NumberFormat('en-GB', {
    style: 'currency',
    currency,
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
  });
  formats.set(key, made);
  return made;
}

/**
 * Reads an amount as a person types it into minor units, or null when it is none.
 * @example readMoney('£4,400') is 440000; readMoney('12.5k') is 1250000; readMoney('1.234') is null
 */
export function readMoney(text: string): number | null {
  const found = /^[£€$]?\s*(\d{1,3}(?:[, ]\d{3})+|\d+)(?:\.(\d{1,2}))?\s*(k)?$/i.exec(text.trim());
  if (!found) return null;
  const major = Number(`${found[1]!.replace(/[, ]/g, '')}.${found[2] ?? '0'}`);
  return Math.round(major * (found[3] ? 1000 : 1) * 100);
}
