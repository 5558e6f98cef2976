export const numbersEndpoints = {
  forecast: 'POST /api/numbers/forecast',
  calibration: 'GET /api/numbers/calibration',
} as const;
