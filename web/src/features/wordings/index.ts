export { AskRelease } from './ask-release';
export { openReview } from './open-review';
export { WaitingWordings } from './waiting-wordings';
export { WordingHistory } from './wording-history';
