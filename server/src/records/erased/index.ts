export { findErased, markErased } from './erased-marks';
