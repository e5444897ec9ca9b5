ALTER TABLE [dbo].[Route] WITH CHECK ADD CONSTRAINT [FK_Route_From] FOREIGN KEY ([FromPortId]) REFERENCES [dbo].[Port] ([PortId])
GO
ALTER TABLE [dbo].[Route] WITH NOCHECK ADD CONSTRAINT [FK_Route_To] FOREIGN KEY ([ToPortId]) REFERENCES [dbo].[Port] ([PortId])
GO
ALTER TABLE [dbo].[Route] CHECK CONSTRAINT [FK_Route_From]
ALTER TABLE [dbo].[Route] NOCHECK CONSTRAINT [FK_Route_To]
GO
ALTER TABLE ops.Sailing ADD
    CONSTRAINT FK_Sailing_Route FOREIGN KEY (RouteId) REFERENCES dbo.Route (RouteId),
    CONSTRAINT FK_Sailing_Vessel FOREIGN KEY (VesselId) REFERENCES dbo.Vessel (VesselId)
ALTER TABLE ops.SailingEvent ADD CONSTRAINT DF_Event_Code DEFAULT ('NOTE') FOR EventCode WITH VALUES
ALTER TABLE ops.TideTable ADD CONSTRAINT FK_Tide_Port FOREIGN KEY (PortId) REFERENCES dbo.Port (PortId) ON DELETE CASCADE
GO
ALTER TABLE sales.Booking ADD CONSTRAINT FK_Booking_Customer FOREIGN KEY (CustomerId) REFERENCES sales.Customer (CustomerId)
ALTER TABLE sales.Booking ADD CONSTRAINT FK_Booking_Sailing FOREIGN KEY (SailingId, SailingDate)
    REFERENCES ops.Sailing (SailingId, SailingDate)
ALTER TABLE sales.BookingPassenger ADD CONSTRAINT FK_Passenger_Booking FOREIGN KEY (BookingId)
    REFERENCES sales.Booking (BookingId) ON DELETE CASCADE NOT FOR REPLICATION
ALTER TABLE sales.BookingPassenger ADD CONSTRAINT FK_Passenger_Fare FOREIGN KEY (FareCode) REFERENCES dbo.FareClass (FareCode)
ALTER TABLE sales.BookingVehicle ADD CONSTRAINT FK_Vehicle_Booking FOREIGN KEY (BookingId) REFERENCES sales.Booking (BookingId)
ALTER TABLE sales.BookingVehicle ADD CONSTRAINT CK_Vehicle_Length CHECK (LengthM > 0 AND LengthM < 25)
ALTER TABLE sales.Payment ADD CONSTRAINT FK_Payment_Booking FOREIGN KEY (BookingId) REFERENCES sales.Booking (BookingId)
ALTER TABLE sales.Refund ADD CONSTRAINT FK_Refund_Payment FOREIGN KEY (PaymentId) REFERENCES sales.Payment (PaymentId)
GO
EXEC sys.sp_addextendedproperty @name = N'MS_Description', @value = N'One crossing of one vessel', @level0type = N'SCHEMA',
    @level0name = N'ops', @level1type = N'TABLE', @level1name = N'Sailing'
GO
EXEC sp_bindrule 'dbo.rul_Positive', 'sales.Refund.Amount'
EXEC sp_bindefault 'dbo.def_Zero', 'sales.DailyTakings.Cash'
GO
