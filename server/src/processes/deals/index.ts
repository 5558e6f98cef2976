export { dealsFeature } from './feature';
export { changeDeal } from './change-deal';
export { createDeal } from './create-deal';
export { readDeal, readDealRows, readDealRowsOf } from './deal-rows';
export { learnAnswers, readOdds } from './letting-go';
export { moveOnWhenDone, tickWhatWasDone } from './move-on';
export { countDealsIn, moveDealsTo } from './move-deals';
export { learnUsualAmounts, readUsualAmounts, type UsualAmounts } from './usual-amounts';
export { deriveDealTouches, likelyDeal, onlyDeal, openDealsOf } from './touch-deals';
