import type { Portal } from '@ochote/contract'
import { cornerName, type QuizChoice, type QuizQuestion } from '@ochote/core'
import type { StudentWords } from '../../shared/language/student-words.ts'

/** A question in words. */
export const questionInWords = (question: QuizQuestion, words: StudentWords, corners: Portal['corners']): string => {
  const { quiz } = words
  switch (question.topic) {
    case 'first-cone':
      return quiz.firstCone(cornerName(corners, question.cornerId))
    case 'cone-meaning':
      return quiz.meaning
    case 'flag':
      return quiz.flag(question.meaning)
    case 'next-corner':
      return quiz.nextCorner(cornerName(corners, question.cornerId))
    case 'gear':
      return quiz.gear(cornerName(corners, question.cornerId))
    case 'reference':
      return quiz.reference(cornerName(corners, question.cornerId))
    case 'emergency':
      return quiz.emergency[question.emergency]
    case 'order':
      return quiz.order
    case 'place':
      return quiz.place(words.marks[question.mark], cornerName(corners, question.cornerId))
  }
}

/** A choice in words. */
export const choiceInWords = (choice: QuizChoice, words: StudentWords, corners: Portal['corners']): string => {
  switch (choice.kind) {
    case 'cone':
      return `${choice.rule.count > 1 ? `${choice.rule.count} × ` : ''}${words.colours[choice.rule.colour]}, ${words.shapes[choice.rule.shape]}`
    case 'meaning':
      return words.marks[choice.cone]
    case 'flag':
    case 'reference':
      return choice.name
    case 'corner':
      return cornerName(corners, choice.cornerId)
    case 'gear':
      return words.gear(choice.gear)
    case 'action':
      return words.quiz.action[choice.action]
  }
}
