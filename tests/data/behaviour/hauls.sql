CREATE TABLE dbo.hauls (id int PRIMARY KEY, name nvarchar(60), berth int, len decimal(8,2), n int)
GO
CREATE FUNCTION dbo.names_at (@id int) RETURNS nvarchar(max) AS BEGIN DECLARE @r nvarchar(max) SELECT @r = COALESCE(@r + ', ', '') + name FROM dbo.hauls WHERE berth = @id ORDER BY name RETURN @r END
GO
CREATE PROCEDURE dbo.last_of @b int, @n varchar(4) OUTPUT, @len decimal(8,1) OUTPUT AS BEGIN SELECT @n = name, @len = len * 2 FROM dbo.hauls WHERE berth = @b ORDER BY id END
GO
CREATE PROCEDURE dbo.sums_of @b int, @t decimal(10,2) OUTPUT, @k int OUTPUT AS BEGIN SELECT @t = 0, @k = 0; SELECT @t = @t + b.len, @k = @k + CASE WHEN b.len > 5 THEN 1 ELSE 0 END FROM dbo.hauls b WHERE b.berth = @b END
GO
CREATE PROCEDURE dbo.list_all @list varchar(200) OUTPUT AS SELECT @list = ISNULL(@list, '') + CAST(id AS varchar(10)) + ';' FROM dbo.hauls WHERE len IS NOT NULL ORDER BY id DESC
GO
CREATE PROCEDURE dbo.drop_doubles AS WITH c AS (SELECT *, ROW_NUMBER() OVER (PARTITION BY name ORDER BY id) rn FROM dbo.hauls) DELETE FROM c WHERE rn > 1
GO
CREATE PROCEDURE dbo.number_rows AS ;WITH c AS (SELECT b.n, b.berth, ROW_NUMBER() OVER (ORDER BY b.name, b.id) rn FROM dbo.hauls b WHERE b.berth > 1) UPDATE c SET n = rn
GO
CREATE PROCEDURE dbo.drop_lonely AS DELETE d FROM (SELECT name, COUNT(*) OVER (PARTITION BY berth) k FROM dbo.hauls) d WHERE d.k = 1
GO
CREATE PROCEDURE dbo.mark_last AS WITH c AS (SELECT TOP (2) name, n FROM dbo.hauls ORDER BY id DESC) UPDATE c SET n = 0, name = name + '!'
GO
CREATE PROCEDURE dbo.drop_first AS WITH c AS (SELECT name, n FROM dbo.hauls WHERE berth = 1) DELETE c
GO
