export { accountNoticeKind, noteSecurity, type NewSecurityEvent, type SecurityKind } from './note-security';
