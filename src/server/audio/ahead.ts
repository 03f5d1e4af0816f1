/** Answers to some questions one after another; the next is asked for while one is worked on. Errors  that of the first that fails. */
export async function* ahead<Question, Answer>(
  questions: readonly Question[],
  ask: (question: Question) => Promise<Answer>,
): AsyncGenerator<Answer> {
  const asked = (i: number): Promise<Answer> | null => {
    const coming = i < questions.length ? ask(questions[i]!) : null;
    coming?.catch(() => {}); // told when its turn comes
    return coming;
  };
  let next = asked(0);
  for (let i = 1; next; i++) {
    const coming = next;
    next = asked(i);
    yield await coming;
  }
}
