CREATE NONCLUSTERED INDEX [IX_Sailing_Departs] ON [ops].[Sailing] ([DepartsAt] ASC) INCLUDE ([RouteId], [Status])
    WITH (ONLINE = ON, SORT_IN_TEMPDB = ON) ON [ps_SailingYear]([SailingDate])
GO
CREATE INDEX IX_Sailing_Planned ON ops.Sailing (RouteId, DepartsAt DESC) WHERE Status = 'P'
CREATE UNIQUE INDEX UX_Booking_Customer ON sales.Booking (CustomerId, SailingId) WHERE Status <> 9
CREATE CLUSTERED INDEX CX_Booking ON sales.Booking (BookedAt, BookingId)
CREATE INDEX IX_Customer_Name ON sales.Customer (FamilyName, GivenName) WITH FILLFACTOR = 80
CREATE INDEX IX_Payment_Booking ON sales.Payment (BookingId) INCLUDE (Amount)
GO
CREATE PRIMARY XML INDEX PXI_Manifest ON ops.Manifest (Content)
GO
CREATE XML INDEX SXI_Manifest_Path ON ops.Manifest (Content) USING XML INDEX PXI_Manifest FOR PATH
GO
CREATE SPATIAL INDEX SI_Port_Location ON dbo.Port (Location) USING GEOGRAPHY_GRID WITH (GRIDS = (MEDIUM, LOW, MEDIUM, HIGH), CELLS_PER_OBJECT = 16)
GO
CREATE NONCLUSTERED COLUMNSTORE INDEX NCI_Payment ON sales.Payment (PaidAt, Method, Amount)
GO
CREATE FULLTEXT CATALOG FerryText AS DEFAULT
GO
CREATE FULLTEXT INDEX ON dbo.Route (Notes LANGUAGE 2057) KEY INDEX PK_Route ON FerryText WITH CHANGE_TRACKING AUTO
GO
CREATE STATISTICS ST_Booking_Channel ON sales.Booking (Channel, Status) WITH FULLSCAN
GO
