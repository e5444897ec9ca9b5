import { Pool } from 'pg';

const TABLE = 'declarations';
export const LIST = `SELECT id, code FROM ${TABLE} WHERE closed = $1`; // sql
export const findById = 'SELECT * FROM declarations WHERE id = $1'; // sql

export class Customs {
  constructor(private readonly pool: Pool) {}

  async open(code: string): Promise<Row[]> {
    const rows = await this.pool.query<Row>(sql`
      SELECT d.id, d.code
      FROM declarations d
      WHERE d.code = ${code}
    `); // sql-above 3
    return rows;
  }

  async close(ids: number[]) {
    await this.pool.query('UPDATE declarations SET closed = 1 ' + // sql
      'WHERE id IN (' + ids.join(', ') + ')');
    await this.repo.query("DELETE FROM declaration_lines WHERE declaration_id = ?", [ids[0]]); // sql
    console.log(`Update of ${ids.length} declarations: set to closed`);
    console.log('select a declaration from the list');
  }

  async dynamic(order: string, desc: boolean) {
    let text = 'SELECT d.id FROM declarations d'; // sql
    if (desc) {
      text += ' WHERE d.total > 100';
    }
    text += ` ORDER BY ${order}`;
    return this.pool.query({ text, values: [] });
  }

  lines() {
    return ['SELECT line_no', 'FROM declaration_lines', 'WHERE total > 3'].join(' '); // sql
  }

  help = 'Insert into the form what you want to declare';
  path = '/select/from/list';
  build = knex('declarations').select('id').from('lines').where({ a: 1 });
  raw = knex.raw('INSERT INTO declaration_log (said) VALUES (?)', ['a']); // sql
  object = { sql: "SELECT 'a' AS a FROM declarations", title: 'Delete from list' }; // sql
}
