/** One result of a receiving server's checks: `dkim=pass header.d=firm.example`. Names are in lower case. */
export interface CheckResult {
  /** `spf`, `dkim`, `dmarc`, … */
  readonly method: string;
  /** `pass`, `fail`, `none`, `temperror`, … */
  readonly result: string;
  /** `smtp.mailfrom`, `header.d`, … with their values. */
  readonly properties: Readonly<Record<string, string>>;
}

export interface AuthenticationResults {
  /** Who checked. A header is believed only when this is the server that is trusted. */
  readonly server: string;
  readonly results: readonly CheckResult[];
}

type Piece =
  { readonly kind: 'word'; readonly text: string; readonly touches: boolean } | { readonly kind: ';' | '=' };

/**
 * Reads the value of an `Authentication-Results` header. Comments may stand anywhere and hold comments; quoted words may
 * hold any mark. A header with a fault in it, or of another version than 1, says nothing: null.
 * @see RFC 8601, section 2.2
 * @example readAuthenticationResults('mx.firm.example; spf=pass smtp.mailfrom=a.example')
 */
export function readAuthenticationResults(header: string): AuthenticationResults | null {
  const pieces = piecesOf(header);
  if (pieces === null) return null;
  const [head = [], ...parts] = splitAt(pieces, ';');
  const words = head.map((piece) => (piece.kind === 'word' ? piece.text : null));
  if (words.length < 1 || words.length > 2 || words.includes(null)) return null;
  if (words.length === 2 && words[1] !== '1') return null;
  if (parts.length === 0) return null;
  const server = words[0]!.toLowerCase();
  if (parts.length === 1 && isNone(parts[0]!)) return { server, results: [] };
  const results = parts.map(resultOf);
  return results.every((each) => each !== null) ? { server, results } : null;
}

const isNone = (part: readonly Piece[]) =>
  part.length === 1 && part[0]!.kind === 'word' && part[0]!.text.toLowerCase() === 'none';

/** `dkim/1=pass reason="…" header.d=firm.example` */
function resultOf(part: readonly Piece[]): CheckResult | null {
  const pairs = pairsOf(part);
  if (pairs === null || pairs.length === 0) return null;
  const [[method, result], ...properties] = pairs as [
    readonly [string, string],
    ...(readonly [string, string])[],
  ];
  const [name = '', methodVersion = '1'] = method.split('/');
  if (!/^[a-z0-9-]+$/.test(name) || methodVersion !== '1') return null;
  if (!/^[a-z0-9-]+$/i.test(result)) return null;
  const isKnown = ([key]: readonly [string, string]) =>
    key === 'reason' || /^[a-z0-9-]+\.[a-z0-9_-]+$/.test(key);
  if (!properties.every(isKnown)) return null;
  return {
    method: name,
    result: result.toLowerCase(),
    properties: Object.fromEntries(properties.filter(([key]) => key !== 'reason')),
  };
}

/** What stands before each `=` and the one value after it; values made of parts that touch are one. */
function pairsOf(part: readonly Piece[]): (readonly [string, string])[] | null {
  const pairs: (readonly [string, string])[] = [];
  let at = 0;
  while (at < part.length) {
    let key = '';
    for (let piece = part[at]; piece?.kind === 'word'; piece = part[++at]) key += piece.text.toLowerCase();
    if (part[at]?.kind !== '=' || key === '') return null;
    const first = part[++at];
    if (first?.kind !== 'word') return null;
    let value = first.text;
    for (let piece = part[++at]; piece?.kind === 'word' && piece.touches; piece = part[++at])
      value += piece.text;
    pairs.push([key, value]);
  }
  return pairs;
}

function splitAt(pieces: readonly Piece[], mark: ';'): Piece[][] {
  const parts: Piece[][] = [[]];
  for (const piece of pieces) {
    if (piece.kind === mark) parts.push([]);
    else parts.at(-1)!.push(piece);
  }
  // A mark at the very end divides nothing.
  if (parts.length > 1 && parts.at(-1)!.length === 0) parts.pop();
  return parts;
}

/** @returns null when a comment or a quoted word is never closed */
function piecesOf(header: string): Piece[] | null {
  const pieces: Piece[] = [];
  let at = 0;
  let touches = false;
  while (at < header.length) {
    const char = header[at]!;
    if (/\s/.test(char)) {
      at += 1;
      touches = false;
    } else if (char === '(') {
      const end = endOfComment(header, at);
      if (end === null) return null;
      at = end;
      touches = false;
    } else if (char === ';' || char === '=') {
      pieces.push({ kind: char });
      at += 1;
      touches = false;
    } else if (char === '"') {
      const quoted = readQuoted(header, at);
      if (quoted === null) return null;
      pieces.push({ kind: 'word', text: quoted.text, touches });
      at = quoted.end;
      touches = true;
    } else if (char === ')') {
      return null;
    } else {
      const start = at;
      while (at < header.length && !/[\s()";=]/.test(header[at]!)) at += 1;
      pieces.push({ kind: 'word', text: header.slice(start, at), touches });
      touches = true;
    }
  }
  return pieces;
}

function endOfComment(header: string, start: number): number | null {
  let depth = 0;
  for (let at = start; at < header.length; at += 1) {
    const char = header[at];
    if (char === '\\') at += 1;
    else if (char === '(') depth += 1;
    else if (char === ')' && --depth === 0) return at + 1;
  }
  return null;
}

function readQuoted(header: string, start: number): { text: string; end: number } | null {
  let text = '';
  for (let at = start + 1; at < header.length; at += 1) {
    const char = header[at]!;
    if (char === '"') return { text, end: at + 1 };
    if (char === '\\') at += 1;
    text += header[at] ?? '';
  }
  return null;
}
