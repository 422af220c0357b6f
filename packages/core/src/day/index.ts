export { type Level, levelReaction_s, levels } from './level.ts'
