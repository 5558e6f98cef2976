export { mailFeature } from './feature';
export { sentByItself } from './after-sending';
export { escapeHtml } from './compose';
export { readMailbox } from './mail-in-imap';
export { listenForMail } from './mail-in-smtp';
export { smtpOut, type MailOut } from './mail-out';
export { sendTextByHand } from './send-by-hand';
export { readCursor, storeArrival } from './store-arrival';
export { unsubscribe } from './unsubscribe';
