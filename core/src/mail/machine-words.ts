/**
 * The words by which machines and people say things in nine languages, in folded letters. They are asked only where a mail's headers
 * have shown what it is, or where a mail says nothing else. Common practice, no source.
 */

const word = (...words: readonly string[]) =>
  new RegExp(String.raw`(?<!\p{L})(?:${words.join('|')})(?!\p{L})`, 'u');

/** Subjects that programs put before the subject they answer: with the colon, no person writes them. */
export const automaticSubject = new RegExp(
  String.raw`^\s*(?:${[
    'auto|auto(?:matic)?[- ]?(?:reply|response|answer)|out of (?:the )?office(?: autoreply| reply)?',
    'automatische antwort|abwesenheitsnotiz|abwesend',
    'automatisch antwoord|afwezig(?:heidsbericht)?',
    "reponse automatique|absence(?: du bureau)?|message d'absence",
    'respuesta automatica|fuera de la oficina',
    'resposta automatica|fora do escritorio',
    'risposta automatica|fuori (?:ufficio|sede)',
    'autosvar|automatiskt svar|franvarande',
    'odpowiedz automatyczna|automatyczna odpowiedz|nieobecnosc|poza biurem',
  ].join('|')})\s*:\s*\S`,
  'u',
);

/** Said of one who is away for a time. */
export const awayWords = word(
  // English
  "out of (?:the )?office|o\\.?o\\.?o|away from (?:the |my )?(?:office|desk)|(?:not|n't) (?:be )?in the office|on (?:annual |parental |maternity |paternity |sick |study )?leave",
  "on (?:my )?holidays?|on (?:my )?vacation|on sabbatical|(?:i am|i'm|i'll be|i will be|we are|currently|be) (?:currently )?(?:away|out|unavailable|travelling|traveling|at a)|in my absence|office (?:closes|is closed)",
  // German
  'abwesen\\w*|nicht (?:im (?:buro|haus)|am arbeitsplatz|am platz|erreichbar)|auser haus|im urlaub|in (?:den )?ferien|ferienabwesenheit|elternzeit|auf (?:dienst|geschafts)reise|krankheitsbedingt',
  // Dutch
  'afwezig\\w*|niet (?:op kantoor|aanwezig|bereikbaar)|ben er (?:\\p{L}+ ){0,3}niet|(?:met|op) (?:vakantie|verlof|reis)|buiten kantoor',
  // French
  'absent\\w*|absence|en (?:conges?|vacances|deplacement)|pas au bureau|(?:hors|en dehors) du bureau',
  // Spanish
  'fuera de (?:la )?oficina|ausen\\w+|de (?:vacaciones|baja|viaje|licencia|permiso)|no estoy en la oficina|no estare en la oficina',
  // Portuguese
  'fora do escritorio|de (?:ferias|licenca|viagem)|em viagem|nao estou no escritorio',
  // Italian
  'fuori (?:ufficio|sede)|assen\\w+|in (?:ferie|viaggio|congedo|trasferta|malattia)|non sono in ufficio',
  // Swedish
  '(?:inte|ej) (?:pa )?(?:kontoret|plats)|ej pa kontoret|franvar\\w+|har semester|pa semester|ar ledig|foraldraledig|tjanstledig|pa (?:resande fot|tjansteresa)',
  // Polish
  'nieobecn\\w+|poza biurem|na (?:urlopie|zwolnieniu|wyjezdzie)|w (?:delegacji|podrozy)',
);

/** Said of one who does not come back. */
export const leftWords = word(
  'no longer (?:works?|working|with|employed|at|in use)|(?:has|have) left',
  'nicht mehr (?:bei|fur|im unternehmen|in unserem|beschaftigt|tatig)|(?:hat|habe) (?:\\p{L}+ ){0,4}verlassen',
  'werkt niet (?:meer|langer)|niet meer werkzaam',
  'ne (?:fait|travaille) plus|a quitte',
  'ya no (?:trabaja|forma)|ha dejado',
  'ja nao (?:trabalha|faz)|nao trabalha mais',
  'non lavora piu|ha lasciato',
  'har slutat|arbetar inte langre',
  'nie pracuje|juz nie pracuj\\w+',
);

/** Subjects under which a server returns a mail. */
export const returnedSubject = word(
  'undeliver(?:ed|able)|(?:mail )?delivery (?:failed|failure|status notification|has failed)|returned mail|failure notice|message delayed|delayed|mail system error',
  'unzustellbar|zustellung',
  'niet-bestelbaar|onbestelbaar',
  'non remis|introuvable|echec',
  'no entregado|retrasado|no se ha podido',
  'nao entregue',
  'mancata consegna|non recapitabile',
  'gick inte att leverera|olevererat',
  'niedostarcz\\w+',
);

/** Said of a mail that is still tried. */
export const delayWords = word(
  'delay(?:ed)?|not been delivered (?:\\p{L}+ ){0,4}yet|will (?:be tried|try|keep trying|retry)|warning',
  'verzogert|retarde\\w*|retrasado|vertraagd|atrasada|ritardo|forsenad|opoznion\\w*',
);

/** What an address that does not work for good is answered with. */
export const unknownAddressWords = word(
  '(?:user|mailbox|recipient|address|account|host|domain)(?: \\p{L}+){0,3} (?:unknown|not found|not exist|invalid|disabled|unavailable)',
  '(?:unknown|no such|invalid|non-?existent) (?:user|mailbox|recipient|address|account|host|domain|local part)',
  "(?:does not|doesn't) (?:exist|like recipient)|no mailbox here|not our customer|not a (?:registered|known|valid)|unbekannter empfanger",
);

/** What is no verdict on the address: its box is full, or something was held against us or against the mail. */
export const notTheAddressWords = word(
  'quota|full|over ?limit|insufficient|too (?:large|big|many)|size',
  'spam|block(?:ed|list\\w*)|blacklist\\w*|reputation|policy|content|virus|banned|dmarc|spf|dkim|authenticat\\w+|greylist\\w*|rate limit\\w*|temporar\\w+|try again|timed? ?out|timeout|loops?',
);

const please = String.raw`(?:please|pls|kindly|bitte|graag|por favor|s'il vous plait|merci de|per favore|prosze o?|can you|could you|i want to|i would like to)`;

/** The wish to get no more mail, when it is all that a mail says. */
export const letAloneWords = new RegExp(
  String.raw`^(?:${please}[,:]? )?(?:${[
    'unsubscribe(?: me| us| this address)?|stop|opt[- ]?out|remove(?: me| us| my address)?(?: from (?:your|this|the) (?:mailing |e-?mail )?lists?)?',
    "take (?:me|us|my address) off (?:your|this|the) (?:mailing |e-?mail )?lists?|(?:do not|don't|stop) (?:e-?mail|mail|writ|contact|send)(?:e|ing)?(?: to)?(?: me| us)?(?: again| any ?more| mails?)*|no (?:more|further) (?:e-?mails?|mails?|messages)",
    'abmelden|abbestellen|austragen|(?:streichen|nehmen|loschen|entfernen|tragen) sie (?:mich|uns|meine adresse) (?:von|aus) (?:ihrer|der|dem) (?:mailing)?(?:liste|verteiler)(?: aus)?|keine (?:weiteren )?(?:e-?)?mails? mehr|schreiben sie mir nicht mehr',
    '(?:mij |me )?(?:uitschrijven|afmelden)|(?:verwijder|haal) (?:mij|me|ons) van (?:uw|je|de) (?:mailing)?lijst|geen (?:e-?)?mails? meer',
    "(?:me |nous )?desi?nscri(?:re|vez)(?:-moi)?(?: de votre liste)?|(?:me |nous )?(?:retirer|supprimer) de votre liste|retirez-moi de votre liste|ne m'(?:ecrivez|envoyez) plus(?: rien)?|plus de (?:mails?|courriels?)",
    '(?:den?me|darme|dar) de baja(?: (?:de|en) (?:su|la|esta) lista)?|no me escriban? mas|no mas correos',
    '(?:remov[ae](?:-me)?|retirem?(?:-me)?|cancelar?)(?: da sua lista)?|nao (?:me )?(?:escreva|envie)m? mais(?: mails?)?',
    '(?:cancellatemi|cancellami|rimuovetemi|toglietemi|disiscrivetemi)(?: dalla (?:vostra|tua) lista)?|non scrivetemi piu|niente piu mail',
    '(?:avregistrera|avprenumerera|ta bort)(?: mig)?(?: fran (?:er|din) lista)?|inga fler mejl',
    '(?:o )?(?:wypisanie|usuniecie) mnie z(?: waszej)? listy|wypiszcie mnie(?: z listy)?|prosze nie pisac(?: wiecej)?',
  ].join(
    '|',
  )})(?:[,.! ]+(?:please|thanks?|thank you|many thanks|merci|danke|grazie|gracias|obrigad[oa]|tack|dziekuje|aub|alstublieft|a\.?u\.?b\.?))*[.! ]*$`,
  'u',
);

/** The line with which a letter begins. */
export const greetingLine =
  /^(?:dear|hello|hi|hey|good (?:morning|day|afternoon)|guten (?:tag|morgen)|hallo|sehr geehrte|liebe[r]?|beste|geachte|bonjour|madame|monsieur|hola|buenos|estimad[oa]|ola|bom dia|car[oa]|buongiorno|gentile|ciao|hej|dzien dobry|szanown\w+)(?![\p{L}])[^.!?]{0,40}$/u;

/** The line with which its end begins: nothing of the letter comes below. */
export const closingLine = new RegExp(
  String.raw`^(?:${[
    '(?:kind|best|warm|many|kindest|warmest)? ?(?:regards|thanks)|thank you|thanks|cheers|yours|best|all the best|sincerely|speak soon|sent from|slan|le meas',
    'mit (?:freundlich|best|herzlich|lieb)\\p{L}+|mfg|lg|vg|(?:viele|beste|freundliche|liebe|schone|herzliche)[nr]? grus|grus',
    'met vriendelijke|mvg|groet|groeten|(?:vriendelijke|hartelijke) groet',
    '(?:bien |tres )?cordialement|cdlt|bien a vous|(?:sinceres|meilleures|cordiales)? ?salutations|merci|bonne journee|a bientot',
    '(?:un )?(?:cordial )?saludo|saludos|atentamente|(?:muchas )?gracias',
    '(?:os |com os )?(?:meus )?(?:melhores )?cumprimentos|com os melhores|atenciosamente|att|obrigad[oa]|abraco',
    '(?:un |cordiali |distinti )?salut[oi]|cordialmente|cordiali|distinti|grazie|ciao',
    'med (?:vanlig|basta)|mvh|(?:basta )?halsningar|vanligen|tack',
    'pozdrawiam|z powazaniem|z wyrazami|--',
  ].join('|')})(?!\p{L})|^(?:viele|beste|freundliche|liebe|schone|herzliche) gru`,
  'u',
);
