import type { KeptChain } from "../../../contract";
import { newestFormat, upgradeChain } from "../../../core/song/formats";
import type { ProcessorState } from "../../../core/song/song";
import type { Db } from "../pool";

export async function listKeptChains(db: Db): Promise<KeptChain[]> {
  const { rows } = await db.query<KeptChain & { format: number }>(
    "select id, name, chain, format from kept_chain order by lower(name)",
  );
  return rows.map(({ id, name, chain, format }) => ({ id, name, chain: upgradeChain(chain, format) }));
}

/** Keeps a chain; one of the same name is replaced. */
export async function keepChain(db: Db, name: string, chain: readonly ProcessorState[]): Promise<KeptChain> {
  const { rows } = await db.query<KeptChain>(
    `insert into kept_chain (name, chain, format) values ($1, $2, $3)
     on conflict (name) do update set chain = excluded.chain, format = excluded.format
     returning id, name, chain`,
    [name, JSON.stringify(chain), newestFormat],
  );
  return rows[0]!;
}

export async function countKeptChains(db: Db): Promise<number> {
  const { rows } = await db.query<{ count: string }>("select count(*) from kept_chain");
  return Number(rows[0]!.count);
}

export async function deleteKeptChain(db: Db, id: string): Promise<boolean> {
  const { rowCount } = await db.query("delete from kept_chain where id = $1", [id]);
  return rowCount === 1;
}
