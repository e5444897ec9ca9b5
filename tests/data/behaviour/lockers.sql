CREATE TABLE lockers (id INT PRIMARY KEY, name VARCHAR(40), side CHAR(1))
GO
CREATE PROCEDURE drop_above @t sysname, @n int AS
BEGIN
  EXEC('DELETE FROM ' + @t + ' WHERE id > 2');
END
GO
CREATE PROCEDURE rename_one @t sysname, @n int, @to varchar(10) AS
BEGIN
  DECLARE @s nvarchar(400);
  SET @s = N'UPDATE ' + QUOTENAME(@t) + N' SET name = ISNULL(@a, ''none''), side = ''x'' WHERE id = @b';
  EXEC sp_executesql @s, N'@a varchar(10), @b int', @a = @to, @b = @n;
END
GO
CREATE PROCEDURE count_of @t sysname, @k int OUTPUT AS
BEGIN
  DECLARE @s nvarchar(400);
  SET @s = N'SELECT @c = COUNT(*) FROM ' + @t;
  EXEC sp_executesql @s, N'@c int OUTPUT', @c = @k OUTPUT;
END
GO
CREATE PROCEDURE named_like @t sysname, @p varchar(20) AS
BEGIN
  DECLARE @s nvarchar(400) = N'SELECT id, ISNULL(side, ''-'') AS s FROM ' + @t + N' WHERE name LIKE @q ORDER BY id';
  EXEC sp_executesql @s, N'@q varchar(20)', @p;
END
GO
