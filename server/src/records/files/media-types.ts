/** Kinds of files that are shown here; everything else is only ever downloaded. Pictures that can hold scripts are not among them. */
const shown: Readonly<Record<string, string>> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  gif: 'image/gif',
  webp: 'image/webp',
  pdf: 'application/pdf',
};
const shownTypes = new Set(Object.values(shown));

/** The type by the file's name; what its sender said of it is not trusted. */
export function mediaTypeOf(name: string): string {
  const extension = /\.([a-z0-9]{1,5})$/i.exec(name)?.[1]?.toLowerCase() ?? '';
  return shown[extension] ?? 'application/octet-stream';
}

export const isShown = (mediaType: string): boolean => shownTypes.has(mediaType);
