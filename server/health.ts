/** Whether the database answers, looked at once for all who want to know. */
import { QueryTypes, type Sequelize } from 'sequelize';

export interface Health {
  database: boolean;
}

/** Milliseconds between two looks, and that an answer may take. */
const EVERY = 1500;
const PATIENCE = 1000;

export class HealthWatch {
  private readonly sequelize: Sequelize;
  private readonly listeners = new Set<(health: Health) => void>();
  private timer: NodeJS.Timeout | null = null;
  private looking = false;
  private last: Health = { database: true };
  constructor(sequelize: Sequelize) {
    this.sequelize = sequelize;
  }

  /** Asks the database now; one that says nothing in time does not answer. */
  async look(): Promise<Health> {
    const answer = this.sequelize.query('select 1', { type: QueryTypes.SELECT }).then(
      () => true,
      () => false,
    );
    const late = new Promise<boolean>((resolve) => setTimeout(() => resolve(false), PATIENCE).unref());
    this.last = { database: await Promise.race([answer, late]) };
    return this.last;
  }

  /** Tells how it is now and then at every look, so that silence says something too. Gives what ends it. */
  subscribe(listener: (health: Health) => void): () => void {
    this.listeners.add(listener);
    listener(this.last);
    this.timer ??= setInterval(() => void this.tell(), EVERY);
    return () => {
      this.listeners.delete(listener);
      if (this.listeners.size > 0 || !this.timer) return;
      clearInterval(this.timer);
      this.timer = null;
    };
  }

  private async tell(): Promise<void> {
    // A look that is still waiting has nothing new to say, but the server lives.
    if (!this.looking) {
      this.looking = true;
      await this.look();
      this.looking = false;
    }
    for (const listener of this.listeners) listener(this.last);
  }

  close(): void {
    if (this.timer) clearInterval(this.timer);
    this.listeners.clear();
  }
}
