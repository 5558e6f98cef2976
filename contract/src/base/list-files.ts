/** What a list can be taken along as. */
export const listFiles = ['csv', 'xlsx'] as const;

/** Cards of people, after RFC 2426 and RFC 6350. */
export const cardFiles = ['vcard-3', 'vcard-4'] as const;
export type CardFile = (typeof cardFiles)[number];

export type ListFile = (typeof listFiles)[number] | CardFile;

/** Beyond so many rows a workbook takes half a minute and half a gigabyte: such a list goes as CSV. */
export const mostSheetRows = 20_000;

/** How a file of each kind ends. */
export const fileEnding: Readonly<Record<ListFile, string>> = {
  csv: 'csv',
  xlsx: 'xlsx',
  'vcard-3': 'vcf',
  'vcard-4': 'vcf',
};
