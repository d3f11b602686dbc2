/** Sends what is to be saved, and remembers it for as long as it may be saved or not. */
import type { Acts } from './acts.ts';
import { NotTakenError, type SaveAnswer, type SaveRequest } from './record-server.ts';

/** What was sent, and the acts behind it. */
export interface SentSave {
  readonly request: SaveRequest;
  readonly acts: Acts;
}

export class SaveSender {
  private open: SentSave | undefined;

  /** `save`: @throws {NotTakenError} where nothing was done now; anything else where it may have been. */
  constructor(private readonly save: (request: SaveRequest) => Promise<SaveAnswer>) {}

  /** What got no answer. */
  get unanswered(): SentSave | undefined {
    return this.open;
  }

  /** @throws what `save` does. */
  async send(sent: SentSave): Promise<SaveAnswer> {
    const isAgain = this.open === sent;
    this.open = sent;
    try {
      const said = await this.save(sent.request);
      this.open = undefined;
      return said;
    } catch (e) {
      // That it is not taken now says nothing of the time before.
      if (e instanceof NotTakenError && (e.isFinal || !isAgain)) this.open = undefined;
      throw e;
    }
  }
}
