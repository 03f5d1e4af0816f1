import type { Task, TaskKind } from "../../../contract";
import type { Db } from "../pool";

export interface TaskRow extends Task {
  songId: string;
  options: Record<string, unknown>;
}

const columns = `id, song_id as "songId", kind, options, state, progress, doing, message, result`;

export async function insertTask(db: Db, songId: string, kind: TaskKind, options: object): Promise<TaskRow> {
  const { rows } = await db.query<TaskRow>(
    `insert into task (song_id, kind, options) values ($1, $2, $3) returning ${columns}`,
    [songId, kind, JSON.stringify(options)],
  );
  return rows[0]!;
}

export async function findTask(db: Db, id: string): Promise<TaskRow | null> {
  const { rows } = await db.query<TaskRow>(`select ${columns} from task where id = $1`, [id]);
  return rows[0] ?? null;
}

export async function listTasks(db: Db, songId: string): Promise<TaskRow[]> {
  const { rows } = await db.query<TaskRow>(
    `select ${columns} from task where song_id = $1 order by created_at desc limit 20`,
    [songId],
  );
  return rows;
}

/** A task in the hands of one worker. `turn` counts who has had it: a worker whose task was given to another has an older one. */
export interface ClaimedTask extends TaskRow {
  readonly turn: number;
}

/** Takes a waiting task; null when somebody else has it or it was cancelled. */
export async function claimTask(db: Db, id: string): Promise<ClaimedTask | null> {
  const { rows } = await db.query<ClaimedTask>(
    `update task set state = 'running', attempts = attempts + 1, heartbeat_at = now(), progress = 0, doing = ''
     where id = $1 and state = 'waiting' returning ${columns}, attempts as turn`,
    [id],
  );
  return rows[0] ?? null;
}

type Held = Pick<ClaimedTask, "id" | "turn">;

/** Notes progress; true when the task is to stop: its owner wants it, or it is another worker's by now. */
export async function beatTask(db: Db, { id, turn }: Held, progress: number, doing = ""): Promise<boolean> {
  const { rows } = await db.query<{ stop: boolean }>(
    `update task set progress = $3, doing = $4, heartbeat_at = now() where id = $1 and attempts = $2 and state = 'running'
     returning cancel_requested as stop`,
    [id, turn, progress, doing],
  );
  return rows[0]?.stop ?? true;
}

/** Holds a task against other workers and its owner until the transaction ends; what is to be done with it. */
export async function holdTask(db: Db, { id, turn }: Held): Promise<"go on" | "stop" | "lost"> {
  const { rows } = await db.query<{ stop: boolean }>(
    `select cancel_requested as stop from task where id = $1 and attempts = $2 and state = 'running' for update`,
    [id, turn],
  );
  return !rows[0] ? "lost" : rows[0].stop ? "stop" : "go on";
}

/** Ends a task; one that is another worker's by now is left alone. */
export async function finishTask(
  db: Db,
  { id, turn }: Held,
  state: "done" | "failed" | "cancelled",
  message: string,
  result: object | null,
): Promise<void> {
  await db.query(
    `update task set state = $3, message = $4, result = $5, finished_at = now(),
       progress = case when $3 = 'done' then 1 else progress end
     where id = $1 and attempts = $2 and state = 'running'`,
    [id, turn, state, message, result && JSON.stringify(result)],
  );
}

export async function cancelTask(db: Db, id: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `update task set cancel_requested = true,
       message = case when state = 'waiting' then 'Stopped. Nothing was changed.' else message end,
       state = case when state = 'waiting' then 'cancelled' else state end
     where id = $1 and state in ('waiting', 'running')`,
    [id],
  );
  return rowCount === 1;
}

/** Ends a task that never came into the queue. */
export async function dropTask(db: Db, id: string, message: string): Promise<void> {
  await db.query(
    `update task set state = 'failed', message = $2, finished_at = now() where id = $1 and state = 'waiting'`,
    [id, message],
  );
}

/** Puts tasks back whose worker has died: no sign of life for 20 s. Given up after three tries. */
export async function reviveTasks(db: Db): Promise<string[]> {
  await db.query(
    `update task set state = 'failed', message = 'The work was broken off three times.', finished_at = now()
     where state = 'running' and attempts >= 3 and heartbeat_at < now() - interval '20 seconds'`,
  );
  const { rows } = await db.query<{ id: string }>(
    `update task set state = 'waiting' where state = 'running' and heartbeat_at < now() - interval '20 seconds' returning id`,
  );
  return rows.map((r) => r.id);
}

/** Tasks that wait for longer than it takes to queue one and to take it up. */
export async function listLongWaiting(db: Db): Promise<string[]> {
  const { rows } = await db.query<{ id: string }>(
    `select id from task where state = 'waiting' and created_at < now() - interval '20 seconds' order by created_at`,
  );
  return rows.map((r) => r.id);
}
