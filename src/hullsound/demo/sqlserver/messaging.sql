-- Departures are told to the harbour's notice boards through a queue.
CREATE MESSAGE TYPE [//kestrelbay/departure] VALIDATION = WELL_FORMED_XML
CREATE CONTRACT [//kestrelbay/notice] ([//kestrelbay/departure] SENT BY INITIATOR)
GO
CREATE QUEUE ops.NoticeQueue WITH STATUS = ON, RETENTION = OFF
GO
CREATE SERVICE [//kestrelbay/noticeboard] ON QUEUE ops.NoticeQueue ([//kestrelbay/notice])
GO
CREATE PROCEDURE ops.usp_TellBoard @Message xml
AS
BEGIN
    DECLARE @dialog uniqueidentifier
    BEGIN DIALOG CONVERSATION @dialog
        FROM SERVICE [//kestrelbay/noticeboard] TO SERVICE '//kestrelbay/noticeboard'
        ON CONTRACT [//kestrelbay/notice] WITH ENCRYPTION = OFF
    ;SEND ON CONVERSATION @dialog MESSAGE TYPE [//kestrelbay/departure] (@Message)
    END CONVERSATION @dialog
END
GO
CREATE PROCEDURE ops.usp_ReadBoard
AS
BEGIN
    DECLARE @body xml, @type sysname
    WAITFOR (RECEIVE TOP (1) @body = CAST(message_body AS xml), @type = message_type_name FROM ops.NoticeQueue), TIMEOUT 5000
    IF @type = N'//kestrelbay/departure'
        INSERT INTO ops.Manifest (SailingId, Content) VALUES (@body.value('(/d/@id)[1]', 'int'), @body)
END
GO
CREATE ASSEMBLY [FerryGeometry] FROM 'D:\Install\FerryGeometry.dll' WITH PERMISSION_SET = SAFE
GO
EXEC sp_addlinkedserver @server = N'HARBOURSQL', @srvproduct = N'', @provider = N'SQLNCLI', @datasrc = N'harboursql.kestrelbay.example'
EXEC sp_configure 'clr enabled', 1
RECONFIGURE WITH OVERRIDE
GO
