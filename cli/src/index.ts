export { main } from './main.ts'
