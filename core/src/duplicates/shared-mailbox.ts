/** Mailboxes that several people of a firm read, in nine languages: RFC 2142 names some, the others are common practice, no source. */
const roles = new Set(
  (
    'info office mail contact hello hi team sales marketing support help helpdesk service services customerservice accounts accounting ' +
    'billing invoices finance payments orders order purchasing procurement reception frontdesk bookings reservations enquiries enquiry ' +
    'inquiries admin administration hr jobs press stores shop postmaster webmaster hostmaster abuse noc security noreply no-reply ' +
    'kontakt buero buro empfang verkauf einkauf buchhaltung rechnung rechnungen bestellung zentrale sekretariat bewerbung ' +
    'verkoop inkoop administratie receptie boekhouding klantenservice facturen ' +
    'contacto ventas compras administracion recepcion facturacion pedidos oficina atencion ' +
    'contato contacto vendas geral encomendas faturacao rececao recepcao ' +
    'contatti vendite acquisti amministrazione segreteria ordini fatture ufficio ' +
    'accueil ventes achats commandes comptabilite secretariat facturation contactez ' +
    'kundtjanst order ekonomi faktura reception forsaljning inkop ' +
    'biuro kontakt sprzedaz zamowienia sekretariat ksiegowosc faktury'
  ).split(' '),
);

/**
 * Whether an address is one that several people share.
 * @example isSharedMailbox('info@penrow.example'); not so isSharedMailbox('maud@penrow.example')
 */
export function isSharedMailbox(address: string): boolean {
  const local = address.trim().toLowerCase().split('@')[0] ?? '';
  return roles.has(local) || local.split(/[._+-]/).some((part) => part.length > 2 && roles.has(part));
}

/** Whether a name holds the word of a post and so is no person's. @example isRoleName('Fen Orders') */
export const isRoleName = (name: string): boolean =>
  name
    .toLowerCase()
    .split(/[^\p{L}]+/u)
    .some((word) => roles.has(word) && word !== 'mail');
