CREATE TABLE moves (id INT AUTO_INCREMENT PRIMARY KEY, name VARCHAR(40) NOT NULL, gone INT, made DATETIME);
CREATE VIEW pairs AS SELECT a.id, b.name FROM moves a INNER JOIN moves b CROSS JOIN moves c ON c.id = b.id WHERE a.gone = b.gone;
DELIMITER //
CREATE PROCEDURE trim_moves(IN n INT)
BEGIN
  UPDATE moves SET gone = gone + 1 WHERE made < '2020-01-01' ORDER BY made DESC LIMIT 10;
  DELETE FROM moves WHERE id > 3 ORDER BY id LIMIT n;
END//
