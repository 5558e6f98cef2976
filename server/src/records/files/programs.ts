/** Endings that a system runs when somebody opens the file. */
const endings = new Set(
  `app apk bat cmd com cpl deb dll dmg exe gadget hta inf iso jar js jse lnk msc msi msp pif pkg ps1 psm1 reg rpm scf scr sh sys vb vbe vbs
   wsc wsf wsh xll`.split(/\s+/),
);

/** How programs begin: Windows, Linux, macOS (both ways round, and for several processors, as Java), and scripts that name their interpreter. */
const beginnings = ['4d5a', '7f454c46', 'feedface', 'feedfacf', 'cefaedfe', 'cffaedfe', 'cafebabe', '2321'];

/** Whether a file is a program by its name: `invoice.pdf.exe`, also with dots or spaces behind. */
export function isProgramByName(name: string): boolean {
  const ending =
    name
      .trim()
      .replace(/[. ]+$/, '')
      .split('.')
      .at(-1)
      ?.toLowerCase() ?? '';
  return name.includes('.') && endings.has(ending);
}

/** Whether a file is a program by its first bytes, whatever it is called. */
export function isProgramByBytes(first: Buffer): boolean {
  const hex = first.subarray(0, 4).toString('hex');
  return beginnings.some((beginning) => hex.startsWith(beginning));
}
