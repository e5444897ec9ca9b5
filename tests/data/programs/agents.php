<?php
namespace KestrelBay;

class Agents
{
    const TABLE = 'agents';
    const ALL = 'SELECT agent_id, name FROM agents'; // sql
    private $byName = "SELECT * FROM agents WHERE name = :name"; // sql

    public function find(\PDO $db, $id)
    {
        $statement = $db->prepare('SELECT name FROM ' . self::TABLE . ' WHERE agent_id = ?'); // sql
        $db->query("SELECT name FROM agents WHERE agent_id = {$id}"); // sql
        $db->query("SELECT name FROM `agents` WHERE kind = '{$this->kind}' LIMIT 5"); // sql
        $sql = sprintf("UPDATE %s SET seen_at = NOW() WHERE agent_id = %d", self::TABLE, $id); // sql
        $sql = "DELETE FROM agent_phones"; // sql
        $sql .= " WHERE agent_id = $id";
        if ($all) {
            $sql .= ' OR phone IS NULL';
        }
        $db->exec($sql);
        $text = <<<SQL
            SELECT a.name, COUNT(*)
            FROM agents a
            GROUP BY a.name
            SQL; // sql-above 3
        $nothing = <<<'TEXT'
            Select an agent from the list.
            TEXT;
        echo "Update from agent $id";
        throw new \Exception('Delete from agents was refused');
        return DB::select('select name from agents where kind = ?', [1]); // sql
    }
}
?>
<select name="from"><option>SELECT name FROM agents</option></select>
