import type { FeatureCollection, LineString, Polygon } from 'geojson';

/** Marrowdale, a made-up county: its outline, its river and its main roads, in degrees. Drawn by hand for this application. */
export const county: FeatureCollection<Polygon | LineString, { kind: 'land' | 'river' | 'road' }> = {
  type: 'FeatureCollection',
  features: [
    {
      type: 'Feature',
      properties: { kind: 'land' },
      geometry: {
        type: 'Polygon',
        // Clockwise round the land, as the projection expects of it.
        coordinates: [
          [
            [-5.62, 54.05],
            [-5.56, 54.15],
            [-5.44, 54.21],
            [-5.33, 54.26],
            [-5.2, 54.27],
            [-5.08, 54.23],
            [-5.0, 54.15],
            [-4.98, 54.05],
            [-5.01, 53.95],
            [-5.09, 53.87],
            [-5.19, 53.82],
            [-5.33, 53.79],
            [-5.45, 53.83],
            [-5.53, 53.92],
            [-5.6, 53.98],
            [-5.62, 54.05],
          ],
        ],
      },
    },
    {
      type: 'Feature',
      properties: { kind: 'river' },
      geometry: {
        type: 'LineString',
        coordinates: [
          [-5.27, 54.25],
          [-5.24, 54.18],
          [-5.27, 54.11],
          [-5.21, 54.06],
          [-5.26, 54.0],
          [-5.23, 53.93],
          [-5.3, 53.87],
          [-5.28, 53.8],
        ],
      },
    },
    {
      type: 'Feature',
      properties: { kind: 'road' },
      geometry: {
        type: 'LineString',
        coordinates: [
          [-5.52, 54.07],
          [-5.42, 54.05],
          [-5.31, 54.02],
          [-5.2, 54.01],
          [-5.08, 53.98],
        ],
      },
    },
    {
      type: 'Feature',
      properties: { kind: 'road' },
      geometry: {
        type: 'LineString',
        coordinates: [
          [-5.4, 54.14],
          [-5.34, 54.08],
          [-5.31, 54.02],
          [-5.35, 53.96],
          [-5.42, 53.93],
          [-5.38, 53.88],
          [-5.36, 53.84],
        ],
      },
    },
    {
      type: 'Feature',
      properties: { kind: 'road' },
      geometry: {
        type: 'LineString',
        coordinates: [
          [-5.25, 54.21],
          [-5.2, 54.15],
          [-5.18, 54.09],
          [-5.22, 54.05],
          [-5.31, 54.02],
        ],
      },
    },
    {
      type: 'Feature',
      properties: { kind: 'road' },
      geometry: {
        type: 'LineString',
        coordinates: [
          [-5.18, 54.09],
          [-5.12, 54.13],
          [-5.09, 54.17],
        ],
      },
    },
    {
      type: 'Feature',
      properties: { kind: 'road' },
      geometry: {
        type: 'LineString',
        coordinates: [
          [-5.31, 54.02],
          [-5.27, 53.94],
          [-5.22, 53.88],
        ],
      },
    },
  ],
};
