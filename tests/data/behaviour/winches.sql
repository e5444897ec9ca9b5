-- Code as it was written before TRY ... CATCH.
CREATE TABLE dbo.winches (id int PRIMARY KEY, name nvarchar(60), berth int NOT NULL)
GO
CREATE PROCEDURE dbo.move_winch @id int, @b int AS
BEGIN TRAN
UPDATE dbo.winches SET berth = @b WHERE id = @id
IF @@ERROR <> 0
BEGIN
  ROLLBACK TRAN
  RETURN 1
END
INSERT INTO dbo.winches VALUES (@id + 100, 'copy', @b)
IF @@ERROR <> 0 GOTO failed
COMMIT TRAN
RETURN 0
failed:
ROLLBACK TRAN
RETURN 2
GO
CREATE PROCEDURE dbo.drop_nth @nth int AS
DECLARE @err int, @n int
SELECT @n = 0
again:
SELECT @n = @n + 1
IF @n < @nth GOTO again
DELETE dbo.winches WHERE id = @n
SELECT @err = @@ERROR, @n = @@ROWCOUNT
IF @err != 0 RETURN @err
IF @n = 0 RETURN -1
RETURN 0
GO
CREATE PROCEDURE dbo.name_winch @id int, @name nvarchar(60) AS
DECLARE @i int
SET @i = 0
IF @id IS NULL GOTO done
WHILE @i < 10
BEGIN
  SET @i = @i + 1
  IF @i = @id GOTO found
END
GOTO done
found:
UPDATE dbo.winches SET name = @name WHERE id = @i
done:
GO
CREATE PROCEDURE dbo.add_winch @id int AS
INSERT dbo.winches VALUES (@id, 'new', NULL)
IF @@ERROR = 515 INSERT dbo.winches VALUES (@id, 'new', 0)
INSERT dbo.winches VALUES (@id, 'new', 0)
RETURN @@ERROR
GO
