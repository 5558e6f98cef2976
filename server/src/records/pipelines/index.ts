export { readAllStages, readPipeline, readPipelines, readStage } from './read-pipelines';
