/** Asks one thing at a time. What is asked meanwhile is asked once more when the answer is in; only the newest counts. */
export class Newest {
  #asking = false
  #again = false

  async ask<T>(question: () => Promise<T>, take: (answer: T) => void, refused: (error: unknown) => void): Promise<void> {
    if (this.#asking) {
      this.#again = true
      return
    }
    this.#asking = true
    do {
      this.#again = false
      try {
        const answer = await question()
        if (!this.#again) take(answer)
      } catch (error) {
        if (!this.#again) refused(error)
      }
    } while (this.#again)
    this.#asking = false
  }
}
