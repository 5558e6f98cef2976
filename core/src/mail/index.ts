export * from './absence';
export * from './authentication-results';
export * from './delivery-status';
export * from './incoming';
export * from './proof';
export * from './signature';
export * from './thread';
export * from './which-deal';
