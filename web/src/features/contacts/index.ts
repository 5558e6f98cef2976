export { PeopleTabs } from './people-tabs';
