export * from './absence';
export * from './delivery-status';
export * from './incoming';
export * from './thread';
