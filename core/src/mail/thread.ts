/** Message-IDs with their angle brackets, in their order, each once: what References and In-Reply-To hold. */
export function messageIdsIn(...headers: readonly (string | null | undefined)[]): string[] {
  const ids = headers.flatMap((header) => header?.match(/<[^<>\s]+>/g) ?? []);
  return [...new Set(ids)];
}

/** No References header grows longer than this many ids; the first and the latest are kept. */
const mostReferences = 20;

/**
 * References and In-Reply-To for an answer to a message: its References (or else its In-Reply-To, when that holds one id)
 * followed by its own id.
 * @see RFC 5322, section 3.6.4
 */
export function answerTo(parent: {
  readonly messageId: string;
  readonly references: readonly string[];
  readonly inReplyTo: readonly string[];
}): { readonly inReplyTo: string; readonly references: string[] } {
  const base =
    parent.references.length > 0 ? parent.references : parent.inReplyTo.length === 1 ? parent.inReplyTo : [];
  const all = [...new Set([...base, parent.messageId])];
  const references =
    all.length <= mostReferences ? all : [all[0]!, ...all.slice(all.length - mostReferences + 1)];
  return { inReplyTo: parent.messageId, references };
}

/** A subject without the marks that answers and forwards put before it, for showing a thread under one name. */
export function bareSubject(subject: string): string {
  return subject.replace(/^(\s*(re|aw|antw|sv|fwd?|wg|enc|res)\s*(\[\d+\])?\s*:\s*)+/i, '').trim();
}
