import type { Sql } from "../db/sql.ts";
import { AccountBook, reachedBy } from "./accounts.ts";
import { AccountsInMemory, AccountsOnDisk } from "./memory.ts";
import { type Answers, answerTo, type Question, type QuestionKind } from "./questions.ts";

/** So many answers are kept as long as nothing has happened. */
const KEPT = 60;
/** So much is taken in between two looks at whether something else is to be done (events). */
const A_WHILE = 2_000;

/** Answers questions from the accounts, after bringing them up to the last event. */
export class Teller {
  readonly #sql: Sql;
  readonly #told = new Map<string, Answers[QuestionKind]>();
  readonly book: AccountBook;
  /** Filled with the first question; null where there are too many to be kept. */
  #memory: AccountsInMemory | null | undefined;
  #gone = 0;
  #upTo = "";

  constructor(sql: Sql) {
    this.#sql = sql;
    this.book = new AccountBook(sql, (leadId, accounts) => this.#memory?.told(leadId, accounts));
  }

  /** Take in what has happened, a while at a time; gives whether anything is left. */
  follow(): boolean {
    return this.book.follow(A_WHILE);
  }

  /** The answer, as things stand now. */
  tell(question: Question): Answers[QuestionKind] {
    while (this.follow());
    this.#remember();
    const upTo = this.#state();
    if (upTo !== this.#upTo) this.#told.clear();
    this.#upTo = upTo;
    const { kind, asked, setupN } = question;
    const key = JSON.stringify([kind, asked, setupN]);
    let answer = this.#told.get(key);
    if (!answer) {
      answer = answerTo(this.#sql, this.#memory ?? new AccountsOnDisk(this.#sql), question);
      if (this.#told.size >= KEPT) this.#told.delete(this.#told.keys().next().value!);
      this.#told.set(key, answer);
    }
    return answer;
  }

  /** Memory as of now: without the leads that were taken out since. */
  #remember(): void {
    const { q } = this.#sql;
    const gone = this.#sql.all(
      q.selectFrom("leadsGone").select(["n", "leadId"]).where("n", ">", this.#gone).orderBy("n"),
    );
    this.#gone = gone.at(-1)?.n ?? this.#gone;
    if (this.#memory === undefined) this.#memory = AccountsInMemory.of(this.#sql);
    for (const { leadId } of gone) this.#memory?.told(leadId, null);
  }

  /** What answers hang on beside the question: the last events, and what was spent. */
  #state(): string {
    const { q } = this.#sql;
    // How far accounts have come, and not the log: what came in between is told of the next time.
    const last = reachedBy(this.#sql);
    const book = this.#sql.get(q.selectFrom("bookEvents").select((eb) => eb.fn.max("n").as("n")));
    const gone = this.#gone;
    const spent = this.#sql.get(
      q.selectFrom("spend").select([(eb) => eb.fn.max("at").as("at"), (eb) => eb.fn.countAll().as("n")]),
    );
    return JSON.stringify([last, book, gone, spent]);
  }
}
