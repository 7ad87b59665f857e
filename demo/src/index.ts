export { DEMO_DAMAGES, DEMO_SIGN_INS, demoData, shootBothWays } from './data.ts'
export { OTTERMERE_KIT } from './kit.ts'
export { OTTERMERE } from './plant.ts'
export { SURVEY, surveyFiles } from './survey.ts'
