CREATE TYPE code FROM varchar(10) NOT NULL
GO
CREATE TABLE docks ([DockId] int NOT NULL PRIMARY KEY, [FullName] nvarchar(30), Made datetime2(3), Depth decimal(7,2), IsOpen bit NOT NULL, Kind code)
GO
CREATE TABLE ChangeLog (Id int IDENTITY PRIMARY KEY, What char(1), Old nvarchar(max), New nvarchar(max))
GO
CREATE TRIGGER docks_audit ON docks FOR INSERT, UPDATE, DELETE AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @Action char(1);
  SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                     WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
  INSERT INTO ChangeLog (What, Old, New)
  SELECT @Action,
         (SELECT x.* FROM deleted x WHERE x.DockId = d.DockId FOR XML RAW),
         (SELECT y.* FROM inserted y WHERE y.DockId = i.DockId FOR XML RAW('dock'))
  FROM inserted i FULL OUTER JOIN deleted d ON d.DockId = i.DockId;
END
GO
