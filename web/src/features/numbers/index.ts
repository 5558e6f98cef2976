export { ReportCard } from './report-card';
