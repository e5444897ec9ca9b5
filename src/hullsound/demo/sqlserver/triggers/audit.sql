-- Audit triggers, made by the authority's own generator on 14 March 2019. Do not edit by hand.
GO
IF OBJECT_ID(N'[dbo].[tr_Port_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [dbo].[tr_Port_Audit]
GO
CREATE TRIGGER [dbo].[tr_Port_Audit] ON [dbo].[Port]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'dbo.Port', CONVERT(nvarchar(200), COALESCE(i.[PortId], d.[PortId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[PortId] = d.[PortId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[PortId] = i.[PortId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[PortId] = i.[PortId];
END;
GO
IF OBJECT_ID(N'[dbo].[tr_Route_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [dbo].[tr_Route_Audit]
GO
CREATE TRIGGER [dbo].[tr_Route_Audit] ON [dbo].[Route]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'dbo.Route', CONVERT(nvarchar(200), COALESCE(i.[RouteId], d.[RouteId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[RouteId] = d.[RouteId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[RouteId] = i.[RouteId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[RouteId] = i.[RouteId];
END;
GO
IF OBJECT_ID(N'[dbo].[tr_Vessel_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [dbo].[tr_Vessel_Audit]
GO
CREATE TRIGGER [dbo].[tr_Vessel_Audit] ON [dbo].[Vessel]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'dbo.Vessel', CONVERT(nvarchar(200), COALESCE(i.[VesselId], d.[VesselId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[VesselId] = d.[VesselId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[VesselId] = i.[VesselId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[VesselId] = i.[VesselId];
END;
GO
IF OBJECT_ID(N'[dbo].[tr_FareClass_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [dbo].[tr_FareClass_Audit]
GO
CREATE TRIGGER [dbo].[tr_FareClass_Audit] ON [dbo].[FareClass]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'dbo.FareClass', CONVERT(nvarchar(200), COALESCE(i.[FareCode], d.[FareCode])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[FareCode] = d.[FareCode] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[FareCode] = i.[FareCode] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[FareCode] = i.[FareCode];
END;
GO
IF OBJECT_ID(N'[dbo].[tr_Tariff_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [dbo].[tr_Tariff_Audit]
GO
CREATE TRIGGER [dbo].[tr_Tariff_Audit] ON [dbo].[Tariff]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'dbo.Tariff', CONVERT(nvarchar(200), COALESCE(i.[TariffId], d.[TariffId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[TariffId] = d.[TariffId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[TariffId] = i.[TariffId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[TariffId] = i.[TariffId];
END;
GO
IF OBJECT_ID(N'[dbo].[tr_Staff_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [dbo].[tr_Staff_Audit]
GO
CREATE TRIGGER [dbo].[tr_Staff_Audit] ON [dbo].[Staff]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'dbo.Staff', CONVERT(nvarchar(200), COALESCE(i.[StaffId], d.[StaffId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[StaffId] = d.[StaffId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[StaffId] = i.[StaffId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[StaffId] = i.[StaffId];
END;
GO
IF OBJECT_ID(N'[dbo].[tr_Shift_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [dbo].[tr_Shift_Audit]
GO
CREATE TRIGGER [dbo].[tr_Shift_Audit] ON [dbo].[Shift]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'dbo.Shift', CONVERT(nvarchar(200), COALESCE(i.[ShiftId], d.[ShiftId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[ShiftId] = d.[ShiftId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[ShiftId] = i.[ShiftId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[ShiftId] = i.[ShiftId];
END;
GO
IF OBJECT_ID(N'[ops].[tr_Sailing_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [ops].[tr_Sailing_Audit]
GO
CREATE TRIGGER [ops].[tr_Sailing_Audit] ON [ops].[Sailing]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'ops.Sailing', CONVERT(nvarchar(200), COALESCE(i.[SailingId], d.[SailingId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[SailingId] = d.[SailingId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[SailingId] = i.[SailingId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[SailingId] = i.[SailingId];
END;
GO
IF OBJECT_ID(N'[ops].[tr_SailingEvent_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [ops].[tr_SailingEvent_Audit]
GO
CREATE TRIGGER [ops].[tr_SailingEvent_Audit] ON [ops].[SailingEvent]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'ops.SailingEvent', CONVERT(nvarchar(200), COALESCE(i.[EventId], d.[EventId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[EventId] = d.[EventId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[EventId] = i.[EventId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[EventId] = i.[EventId];
END;
GO
IF OBJECT_ID(N'[sales].[tr_Customer_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [sales].[tr_Customer_Audit]
GO
CREATE TRIGGER [sales].[tr_Customer_Audit] ON [sales].[Customer]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'sales.Customer', CONVERT(nvarchar(200), COALESCE(i.[CustomerId], d.[CustomerId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[CustomerId] = d.[CustomerId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[CustomerId] = i.[CustomerId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[CustomerId] = i.[CustomerId];
END;
GO
IF OBJECT_ID(N'[sales].[tr_Booking_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [sales].[tr_Booking_Audit]
GO
CREATE TRIGGER [sales].[tr_Booking_Audit] ON [sales].[Booking]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'sales.Booking', CONVERT(nvarchar(200), COALESCE(i.[BookingId], d.[BookingId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[BookingId] = d.[BookingId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[BookingId] = i.[BookingId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[BookingId] = i.[BookingId];
END;
GO
IF OBJECT_ID(N'[sales].[tr_BookingPassenger_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [sales].[tr_BookingPassenger_Audit]
GO
CREATE TRIGGER [sales].[tr_BookingPassenger_Audit] ON [sales].[BookingPassenger]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'sales.BookingPassenger', CONVERT(nvarchar(200), COALESCE(i.[BookingId], d.[BookingId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[BookingId] = d.[BookingId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[BookingId] = i.[BookingId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[BookingId] = i.[BookingId];
END;
GO
IF OBJECT_ID(N'[sales].[tr_BookingVehicle_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [sales].[tr_BookingVehicle_Audit]
GO
CREATE TRIGGER [sales].[tr_BookingVehicle_Audit] ON [sales].[BookingVehicle]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'sales.BookingVehicle', CONVERT(nvarchar(200), COALESCE(i.[BookingId], d.[BookingId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[BookingId] = d.[BookingId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[BookingId] = i.[BookingId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[BookingId] = i.[BookingId];
END;
GO
IF OBJECT_ID(N'[sales].[tr_Payment_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [sales].[tr_Payment_Audit]
GO
CREATE TRIGGER [sales].[tr_Payment_Audit] ON [sales].[Payment]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'sales.Payment', CONVERT(nvarchar(200), COALESCE(i.[PaymentId], d.[PaymentId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[PaymentId] = d.[PaymentId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[PaymentId] = i.[PaymentId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[PaymentId] = i.[PaymentId];
END;
GO
IF OBJECT_ID(N'[sales].[tr_Refund_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [sales].[tr_Refund_Audit]
GO
CREATE TRIGGER [sales].[tr_Refund_Audit] ON [sales].[Refund]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'sales.Refund', CONVERT(nvarchar(200), COALESCE(i.[RefundId], d.[RefundId])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[RefundId] = d.[RefundId] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[RefundId] = i.[RefundId] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[RefundId] = i.[RefundId];
END;
GO
IF OBJECT_ID(N'[sales].[tr_Voucher_Audit]', N'TR') IS NOT NULL
    DROP TRIGGER [sales].[tr_Voucher_Audit]
GO
CREATE TRIGGER [sales].[tr_Voucher_Audit] ON [sales].[Voucher]
FOR INSERT, UPDATE, DELETE
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @Action char(1);
    SET @Action = CASE WHEN EXISTS (SELECT * FROM inserted) AND EXISTS (SELECT * FROM deleted) THEN 'U'
                       WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END;
    INSERT INTO [audit].[ChangeLog] ([TableName], [KeyValue], [Action], [Before], [After])
    SELECT N'sales.Voucher', CONVERT(nvarchar(200), COALESCE(i.[VoucherCode], d.[VoucherCode])), @Action,
           (SELECT x.* FROM deleted x WHERE x.[VoucherCode] = d.[VoucherCode] FOR XML RAW, TYPE),
           (SELECT y.* FROM inserted y WHERE y.[VoucherCode] = i.[VoucherCode] FOR XML RAW, TYPE)
    FROM inserted i FULL OUTER JOIN deleted d ON d.[VoucherCode] = i.[VoucherCode];
END;
GO
