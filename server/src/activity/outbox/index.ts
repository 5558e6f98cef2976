export { linksIn, readLink, signLink, type LinkPurpose } from './links';
export { askToSend, queueMail, sendMailKind } from './mail-outbox';
export { sendNotice } from './notice-mail';
export { queueText, sendTextKind } from './text-outbox';
