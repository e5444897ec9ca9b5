CREATE TRIGGER [sales].[tr_Booking_Places] ON [sales].[BookingPassenger]
AFTER INSERT, DELETE
NOT FOR REPLICATION
AS
BEGIN
    IF @@ROWCOUNT = 0 RETURN
    SET NOCOUNT ON
    IF TRIGGER_NESTLEVEL() > 3 RETURN
    IF EXISTS (
        SELECT 1 FROM inserted i
        JOIN sales.Booking b ON b.BookingId = i.BookingId
        JOIN ops.Sailing s ON s.SailingId = b.SailingId
        JOIN dbo.Vessel v ON v.VesselId = s.VesselId
        WHERE s.PlacesSold > v.PassengerLimit)
    BEGIN
        ROLLBACK TRANSACTION
        RAISERROR ('The sailing is full.', 16, 1)
    END
END
GO
CREATE TRIGGER sales.tr_Voucher_Use ON sales.Voucher FOR UPDATE
AS
IF UPDATE(Remaining)
BEGIN
    IF EXISTS (SELECT * FROM inserted WHERE Remaining < 0)
    BEGIN
        RAISERROR 51002 'A voucher cannot be overdrawn.'
        ROLLBACK TRAN
        RETURN
    END
    IF (COLUMNS_UPDATED() & 4) = 4
        PRINT 'The amount was changed too.'
END
GO
CREATE TRIGGER ops.tr_Departures_Insert ON ops.v_Departures
INSTEAD OF INSERT, UPDATE
AS
BEGIN
    SET NOCOUNT ON
    RAISERROR ('Sailings are planned with ops.usp_CreateTimetable.', 10, 1) WITH LOG
END
GO
CREATE TRIGGER tr_GuardSchema ON DATABASE
FOR DROP_TABLE, ALTER_TABLE
AS
BEGIN
    DECLARE @data xml = EVENTDATA()
    INSERT INTO audit.ChangeLog (TableName, KeyValue, [Action], After)
    VALUES (@data.value('(/EVENT_INSTANCE/ObjectName)[1]', 'sysname'), N'', 'D', @data)
    IF IS_MEMBER('db_owner') = 0
        ROLLBACK
END
GO
CREATE TRIGGER tr_KioskHours ON ALL SERVER WITH EXECUTE AS 'sa'
FOR LOGON
AS
BEGIN
    IF ORIGINAL_LOGIN() = 'ferry_kiosk' AND DATEPART(hour, GETDATE()) NOT BETWEEN 5 AND 23
        ROLLBACK;
END
GO
DISABLE TRIGGER tr_KioskHours ON ALL SERVER
GO
EXEC sp_settriggerorder @triggername = 'sales.tr_Booking_Places', @order = 'First', @stmttype = 'INSERT'
GO
