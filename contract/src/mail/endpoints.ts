export const mailEndpoints = {
  listMail: 'GET /api/mail',
  draftMail: 'GET /api/mail/draft',
  sendMail: 'POST /api/mail',
  getMail: 'GET /api/mail/:id',
  fileMail: 'POST /api/mail/:id/file',
  letMailGo: 'POST /api/mail/:id/let-go',
  unfileMail: 'POST /api/mail/:id/unfile',
  decideHeld: 'POST /api/mail/:id/decide',
  mailSettings: 'GET /api/mail-settings',
  changeMailSettings: 'PUT /api/mail-settings',
} as const;
