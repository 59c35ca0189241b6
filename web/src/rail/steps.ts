/** The steps of the work, in its order. */
export const STEPS = [
  { name: 'plate', title: 'Plate', question: 'What have we got?' },
  { name: 'follow', title: 'Follow', question: 'How does it move?' },
  { name: 'seat', title: 'Seat', question: 'Where exactly are the edges?' },
  { name: 'content', title: 'Content', question: 'What is shown on it?' },
  { name: 'front', title: 'Front', question: 'What is in front of it?' },
  { name: 'blend', title: 'Blend', question: 'Does it belong?' },
  { name: 'send', title: 'Send', question: 'What leaves the house?' },
] as const;

export type StepName = (typeof STEPS)[number]['name'];
