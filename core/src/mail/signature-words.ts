import { folded } from './days-in-text';

/** Words of signatures in nine languages, in folded letters. Common practice, no source. */

const anyOf = (...words: readonly string[]) =>
  new RegExp(String.raw`(?<!\p{L})(?:${words.join('|')})(?!\p{L})`, 'u');

/** What stands before or behind a name and is none of it: `Dr. med.`, `(she/her)`, `MSc`. */
export const personMarks =
  /(?<![\p{L}.])(?:Prof|Dr|Dra|Dott\.ssa|Dottssa|Dott|Ing|Eng|Mgr|Mag|Dipl|Mr|Mrs|Ms|mgr|inż|inz|med|ppa|i\.\s?[AV])(?:\.º|\.-?|º)?(?![\p{L}])\.?|-?Ing\.|\((?:she|he|they)\/\w+\)|(?<=\s),?\s*(?:MBA|MSc|BSc|MA|BA|PhD|CEng|MBBS|FRCS|MD|RN|PE)\b/gu;

/** Lines that the law or habit puts below a signature. */
export const legalLine =
  /confidential|vertraulich|registered in|is registered|company n(?:umber|o)|amtsgericht|hrb|sitz der gesellschaft|^geschaftsfuhrer\s*:|^kvk|vat (?:gb|no|reg)|sent from|von meinem|envoye de|inviato da|before (?:you )?print|opening hours|find us|^https?:\/\/\S+unsub/u;

/** What stands right before a number and says what it is for; the first that fits counts. */
export const phoneLabels: readonly {
  readonly kind: 'work' | 'direct' | 'mobile' | 'fax';
  readonly words: RegExp;
}[] = [
  { kind: 'fax', words: /(?<!\p{L}|t\/)(?:fax|telefax|faks|f)$/u },
  {
    kind: 'mobile',
    words:
      /(?<!\p{L})(?:mobile?|mobiel|mob|m|cell?|cellulare|celular|c|handy|natel|port|portable|gsm|movil|telemovel|tlm|tel\.? kom|kom|komorka|komorkowy)$/u,
  },
  {
    kind: 'direct',
    words:
      /(?<!\p{L})(?:direct(?: (?:dial|line))?|direkt|durchwahl|ligne directe|diretto|directo|doorkies(?:nummer)?|ddi)$/u,
  },
  {
    kind: 'work',
    words:
      /(?<!\p{L})(?:tel|telefono?|telephone|telefoon|telefone|tele|fon|fone|fixe|phone|ph|p|t|o|t\/f|tfno|tf|office|ufficio|buro|switchboard|reception|standard|vaxel|zentrale|centralino|kantoor)$/u,
  },
];

const titleWord = anyOf(
  'director|manager|head|owner|proprietor|president|vice|chief|officer|lead|buyer|purchas\\w+|procurement|engineer|baker|brewer|chef|accounts?|accountant|stores|assistant|supervisor|coordinator|secretary|partner|founder|operations|facilities|maintenance',
  '\\p{L}*leiter(?:in)?|leitung|inhaber(?:in)?|geschaftsfuhrer(?:in)?|\\p{L}*einkauf(?:er(?:in)?)?|einkaufer(?:in)?|sachbearbeiter(?:in)?|\\p{L}*meister(?:in)?|direktor(?:in)?|assistenz|vorstand|haustechnik|buchhaltung|\\p{L}*techniker(?:in)?',
  'hoofd|eigenaar|inkoper|inkoop\\p{L}*|bedrijfsleider|directeur|zaakvoerder|technische dienst|medewerker|facilitair',
  'responsable|directrice|gerante?|acheteu\\w+|cheffe?|assistante?|secretaire|adjointe?|presidente?',
  'jef[ea]|gerente|encargad[oa]|administracion|compras|tecnic[oa]|maestro|propietari[oa]|socia?|directora',
  'diretora?|socio(?:-gerente)?|responsavel|coordenadora?|comprador\\w*|tecnico',
  'responsabile|titolare|direttore|direttrice|ufficio (?:tecnico|acquisti)|mastro|amministratore|impiegat[oa]|addett[oa]',
  '\\p{L}*chef|vd|agare|inkopare|\\p{L}*ansvarig|platschef|ekonom\\w*',
  'kierown\\w+|dyrektor\\w*|wlascicie\\w+|specjalist\\w+|prezes\\w*|zarzadu|ksiegow\\w+|mistrz',
);

/** Whether a part of a line names what somebody does, and is no sentence. */
export const isTitled = (part: string): boolean =>
  titleWord.test(folded(part)) && part.length <= 60 && !/[.!?]$/.test(part);

/** Trades of firms that bake, wash, brew, host and heal: what stands with one is a firm. */
export const firmWords = anyOf(
  'bakery|bakes|laundry|linen|brewery|brewing|brew|hotels?|inn|clinics?|car wash|catering|cafe|restaurant|spa|water|boilers|group|services|company',
  '\\p{L}*backerei|\\p{L}*wascherei|\\p{L}*brauerei|\\p{L}*klinik|gasthof|gasthaus|textilpflege',
  'bakkerij|wasserij|brouwerij|kliniek|brood|linnen',
  'boulangerie|fournil|blanchisserie|brasserie|clinique|traiteur',
  'obrador|panaderia|lavanderia|cerveceria|cervezas|clinica|hoteles',
  'padaria|lavandaria|cervejaria|hoteis',
  'forno|pasticceria|birrificio|alberghi|albergo',
  '\\p{L}*bageri|\\p{L}*tvatt|\\p{L}*bryggeri|hotell|\\p{L}*klinik',
  'piekarnia|pralnia|pralnie|browar|hotele',
);

/** Whether a part can be the name of a firm or of a post: some words with a capital in front, no sentence. */
export const isFine = (part: string): boolean =>
  part.length <= 50 &&
  /^[\p{Lu}\d]/u.test(part) &&
  part.split(/\s+/).length <= 6 &&
  !/[.!?]$|\d{3}|[:@]/u.test(part);
