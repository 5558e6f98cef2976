export { telephoneFeature } from './feature';
export { isSignedBy, signatureOf } from './gateway';
export { gatewayEvent, takeGatewayEvent } from './gateway-events';
export { httpPhoneLine, type PhoneLine } from './phone-line';
export { httpTextGateway, type TextGateway } from './text-gateway';
