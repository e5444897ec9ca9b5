-- Reference data of the ferry ticketing.
SET NOCOUNT ON
GO
SET IDENTITY_INSERT dbo.Port ON
GO
INSERT [dbo].[Port] ([PortId], [PortCode], [PortName], [Latitude], [Longitude], [IsActive]) VALUES (1, N'KES01', N'Kestrel Bay', CAST(57.100000 AS Decimal(9, 6)), CAST(-3.142857 AS Decimal(9, 6)), 1)
INSERT [dbo].[Port] ([PortId], [PortCode], [PortName], [Latitude], [Longitude], [IsActive]) VALUES (2, N'GUL02', N'Gull Point', CAST(57.200000 AS Decimal(9, 6)), CAST(-3.285714 AS Decimal(9, 6)), 1)
INSERT [dbo].[Port] ([PortId], [PortCode], [PortName], [Latitude], [Longitude], [IsActive]) VALUES (3, N'SAN03', N'Sandwick', CAST(57.300000 AS Decimal(9, 6)), CAST(-3.428571 AS Decimal(9, 6)), 1)
INSERT [dbo].[Port] ([PortId], [PortCode], [PortName], [Latitude], [Longitude], [IsActive]) VALUES (4, N'HOL04', N'Hollow Reach', CAST(57.400000 AS Decimal(9, 6)), CAST(-3.571429 AS Decimal(9, 6)), 1)
INSERT [dbo].[Port] ([PortId], [PortCode], [PortName], [Latitude], [Longitude], [IsActive]) VALUES (5, N'MER05', N'Merrow', CAST(57.500000 AS Decimal(9, 6)), CAST(-3.714286 AS Decimal(9, 6)), 1)
INSERT [dbo].[Port] ([PortId], [PortCode], [PortName], [Latitude], [Longitude], [IsActive]) VALUES (6, N'TER06', N'Tern Island', CAST(57.600000 AS Decimal(9, 6)), CAST(-3.857143 AS Decimal(9, 6)), 1)
INSERT [dbo].[Port] ([PortId], [PortCode], [PortName], [Latitude], [Longitude], [IsActive]) VALUES (7, N'STA07', N'Stackpool', CAST(57.700000 AS Decimal(9, 6)), CAST(-4.000000 AS Decimal(9, 6)), 1)
INSERT [dbo].[Port] ([PortId], [PortCode], [PortName], [Latitude], [Longitude], [IsActive]) VALUES (8, N'WIN08', N'Windle Quay', CAST(57.800000 AS Decimal(9, 6)), CAST(-4.142857 AS Decimal(9, 6)), 0)
INSERT [dbo].[Port] ([PortId], [PortCode], [PortName], [Latitude], [Longitude], [IsActive]) VALUES (9, N'OXM09', N'Oxmouth', CAST(57.900000 AS Decimal(9, 6)), CAST(-4.285714 AS Decimal(9, 6)), 1)
INSERT [dbo].[Port] ([PortId], [PortCode], [PortName], [Latitude], [Longitude], [IsActive]) VALUES (10, N'FAR10', N'Farholm', CAST(58.000000 AS Decimal(9, 6)), CAST(-4.428571 AS Decimal(9, 6)), 1)
GO
SET IDENTITY_INSERT dbo.Port OFF
GO

INSERT INTO dbo.FareClass (FareCode, Description, MinAge, MaxAge, Discount) VALUES ('ADLT', N'Adult', 16, 64, 0)
INSERT INTO dbo.FareClass (FareCode, Description, MinAge, MaxAge, Discount) VALUES ('CHLD', N'Child', 4, 15, 0.5)
INSERT INTO dbo.FareClass (FareCode, Description, MinAge, MaxAge, Discount) VALUES ('INFT', N'Infant', 0, 3, 1)
INSERT INTO dbo.FareClass (FareCode, Description, MinAge, MaxAge, Discount) VALUES ('SENR', N'Senior', 65, NULL, 0.25)
INSERT INTO dbo.FareClass (FareCode, Description, MinAge, MaxAge, Discount) VALUES ('STUD', N'Student', NULL, NULL, 0.2)
INSERT INTO dbo.FareClass (FareCode, Description, MinAge, MaxAge, Discount) VALUES ('CREW', N'Off-duty crew', NULL, NULL, 0.9)
GO
INSERT INTO dbo.Vessel (VesselId, VesselName, CallSign, PassengerLimit, DeckMetres, Commissioned) VALUES (1, N'Kittiwake', 'KBF1', 175, 61.5, '19950115 00:00')
INSERT INTO dbo.Vessel (VesselId, VesselName, CallSign, PassengerLimit, DeckMetres, Commissioned) VALUES (2, N'Sanderling', 'KBF2', 230, 82.5, '19990215 00:00')
INSERT INTO dbo.Vessel (VesselId, VesselName, CallSign, PassengerLimit, DeckMetres, Commissioned) VALUES (3, N'Guillemot', 'KBF3', 285, 103.5, '20030315 00:00')
INSERT INTO dbo.Vessel (VesselId, VesselName, CallSign, PassengerLimit, DeckMetres, Commissioned) VALUES (4, N'Old Petrel', 'KBF4', 340, 124.5, '20070415 00:00')
INSERT INTO dbo.Vessel (VesselId, VesselName, CallSign, PassengerLimit, DeckMetres, Commissioned) VALUES (5, N'Razorbill', 'KBF5', 395, 145.5, '20110515 00:00')
INSERT INTO dbo.Vessel (VesselId, VesselName, CallSign, PassengerLimit, DeckMetres, Commissioned) VALUES (6, N'Merganser', 'KBF6', 450, 166.5, '20150615 00:00')
GO
INSERT INTO dbo.Route (FromPortId, ToPortId, DistanceMiles, CrossingTime, Season, Notes) VALUES (1, 2, 7.5, '01:17', 1, N'Sheltered; passes the south light')
INSERT INTO dbo.Route (FromPortId, ToPortId, DistanceMiles, CrossingTime, Season, Notes) VALUES (2, 3, 11.0, '02:34', 2, N'Sheltered; passes the north light')
INSERT INTO dbo.Route (FromPortId, ToPortId, DistanceMiles, CrossingTime, Season, Notes) VALUES (3, 4, 14.5, '03:51', 3, N'Sheltered; passes the south light')
INSERT INTO dbo.Route (FromPortId, ToPortId, DistanceMiles, CrossingTime, Season, Notes) VALUES (4, 5, 18.0, '00:08', 4, N'Sheltered; passes the old light')
INSERT INTO dbo.Route (FromPortId, ToPortId, DistanceMiles, CrossingTime, Season, Notes) VALUES (5, 6, 21.5, '01:25', 5, N'Sheltered; passes the north light')
INSERT INTO dbo.Route (FromPortId, ToPortId, DistanceMiles, CrossingTime, Season, Notes) VALUES (6, 7, 25.0, '02:42', 6, N'Sheltered; passes the north light')
INSERT INTO dbo.Route (FromPortId, ToPortId, DistanceMiles, CrossingTime, Season, Notes) VALUES (7, 8, 28.5, '03:59', 7, N'Sheltered; passes the old light')
INSERT INTO dbo.Route (FromPortId, ToPortId, DistanceMiles, CrossingTime, Season, Notes) VALUES (8, 9, 32.0, '00:16', 0, N'Sheltered; passes the north light')
INSERT INTO dbo.Route (FromPortId, ToPortId, DistanceMiles, CrossingTime, Season, Notes) VALUES (9, 10, 35.5, '01:33', 1, N'Sheltered; passes the south light')
GO
DECLARE @r int, @f char(4), @base money
DECLARE routes CURSOR FOR SELECT RouteId, DistanceMiles * 2.10 FROM dbo.Route
OPEN routes
FETCH routes INTO @r, @base
WHILE @@FETCH_STATUS = 0
BEGIN
    INSERT INTO dbo.Tariff (RouteId, FareCode, ValidFrom, Price, Currency) SELECT @r, FareCode, '20240101', @base, 'KBC' FROM dbo.FareClass
    FETCH routes INTO @r, @base
END
CLOSE routes
DEALLOCATE routes
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20240101', 1.10728534)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20240101', 1.05343185)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20240101', 11.62839267)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20240201', 1.06356336)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20240201', 1.01332285)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20240201', 11.65311118)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20240301', 1.10449216)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20240301', 0.98402342)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20240301', 11.96231192)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20240401', 1.13937557)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20240401', 1.03065907)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20240401', 11.97901305)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20240501', 1.06144386)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20240501', 1.02698018)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20240501', 11.47120903)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20240601', 1.07545520)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20240601', 1.02462386)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20240601', 11.55078243)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20240701', 1.09288424)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20240701', 1.02331997)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20240701', 11.96750983)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20240801', 1.10530264)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20240801', 1.03485142)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20240801', 11.52210904)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20240901', 1.10626599)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20240901', 0.99453028)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20240901', 11.51675391)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20241001', 1.11866575)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20241001', 1.02525245)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20241001', 12.01329713)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20241101', 1.09968448)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20241101', 1.02258837)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20241101', 12.16392179)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20241201', 1.09697296)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20241201', 1.05455282)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20241201', 11.76822640)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20250101', 1.07786154)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20250101', 0.99386897)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20250101', 12.16639781)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20250201', 1.06320324)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20250201', 1.00370033)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20250201', 11.89535077)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20250301', 1.08622586)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20250301', 1.01582487)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20250301', 12.00372899)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20250401', 1.06244168)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20250401', 1.02097372)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20250401', 11.58104392)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20250501', 1.08610091)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20250501', 1.05535485)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20250501', 11.82545683)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20250601', 1.14065768)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20250601', 0.98553383)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20250601', 11.95528812)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20250701', 1.12544029)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20250701', 1.04597763)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20250701', 11.74779649)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20250801', 1.08681570)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20250801', 1.01972866)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20250801', 12.18264116)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20250901', 1.06205114)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20250901', 0.98683743)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20250901', 11.68098219)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20251001', 1.11733970)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20251001', 0.98450400)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20251001', 12.12006369)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20251101', 1.08324545)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20251101', 1.02636041)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20251101', 12.07253779)
GO
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('EUR', '20251201', 1.09521639)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('USD', '20251201', 1.03767683)
INSERT sales.ExchangeRate (Currency, RateDate, Rate) VALUES ('NOK', '20251201', 12.26846236)
GO
INSERT INTO ops.TideTable VALUES (1, '2025-06-01T03:07:00', 4.2, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-01T09:07:00', 1.3, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-01T15:07:00', 4.4, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-01T21:07:00', 1.1, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-02T04:14:00', 4.3, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-02T10:14:00', 1.4, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-02T16:14:00', 4.5, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-02T22:14:00', 1.2, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-03T04:21:00', 4.4, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-03T10:21:00', 1.5, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-03T16:21:00', 4.6, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-03T22:21:00', 1.3, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-04T05:28:00', 4.5, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-04T11:28:00', 1.6, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-04T17:28:00', 4.7, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-04T23:28:00', 1.4, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-05T05:35:00', 4.1, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-05T11:35:00', 1.2, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-05T17:35:00', 4.3, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-05T23:35:00', 1.0, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-06T06:42:00', 4.2, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-06T12:42:00', 1.3, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-06T18:42:00', 4.4, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-06T00:42:00', 1.1, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-07T06:49:00', 4.3, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-07T12:49:00', 1.4, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-07T18:49:00', 4.5, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-07T00:49:00', 1.2, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-08T07:56:00', 4.4, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-08T13:56:00', 1.5, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-08T19:56:00', 4.6, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-08T01:56:00', 1.3, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-09T07:03:00', 4.5, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-09T13:03:00', 1.6, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-09T19:03:00', 4.7, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-09T01:03:00', 1.4, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-10T08:10:00', 4.1, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-10T14:10:00', 1.2, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-10T20:10:00', 4.3, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-10T02:10:00', 1.0, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-11T08:17:00', 4.2, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-11T14:17:00', 1.3, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-11T20:17:00', 4.4, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-11T02:17:00', 1.1, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-12T09:24:00', 4.3, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-12T15:24:00', 1.4, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-12T21:24:00', 4.5, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-12T03:24:00', 1.2, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-13T09:31:00', 4.4, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-13T15:31:00', 1.5, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-13T21:31:00', 4.6, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-13T03:31:00', 1.3, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-14T10:38:00', 4.5, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-14T16:38:00', 1.6, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-14T22:38:00', 4.7, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-14T04:38:00', 1.4, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-15T10:45:00', 4.1, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-15T16:45:00', 1.2, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-15T22:45:00', 4.3, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-15T04:45:00', 1.0, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-16T11:52:00', 4.2, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-16T17:52:00', 1.3, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-16T23:52:00', 4.4, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-16T05:52:00', 1.1, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-17T11:59:00', 4.3, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-17T17:59:00', 1.4, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-17T23:59:00', 4.5, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-17T05:59:00', 1.2, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-18T12:06:00', 4.4, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-18T18:06:00', 1.5, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-18T00:06:00', 4.6, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-18T06:06:00', 1.3, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-19T12:13:00', 4.5, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-19T18:13:00', 1.6, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-19T00:13:00', 4.7, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-19T06:13:00', 1.4, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-20T13:20:00', 4.1, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-20T19:20:00', 1.2, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-20T01:20:00', 4.3, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-20T07:20:00', 1.0, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-21T13:27:00', 4.2, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-21T19:27:00', 1.3, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-21T01:27:00', 4.4, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-21T07:27:00', 1.1, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-22T14:34:00', 4.3, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-22T20:34:00', 1.4, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-22T02:34:00', 4.5, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-22T08:34:00', 1.2, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-23T14:41:00', 4.4, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-23T20:41:00', 1.5, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-23T02:41:00', 4.6, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-23T08:41:00', 1.3, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-24T15:48:00', 4.5, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-24T21:48:00', 1.6, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-24T03:48:00', 4.7, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-24T09:48:00', 1.4, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-25T15:55:00', 4.1, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-25T21:55:00', 1.2, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-25T03:55:00', 4.3, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-25T09:55:00', 1.0, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-26T16:02:00', 4.2, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-26T22:02:00', 1.3, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-26T04:02:00', 4.4, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-26T10:02:00', 1.1, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-27T16:09:00', 4.3, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-27T22:09:00', 1.4, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-27T04:09:00', 4.5, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-27T10:09:00', 1.2, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-28T17:16:00', 4.4, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-28T23:16:00', 1.5, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-28T05:16:00', 4.6, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-28T11:16:00', 1.3, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-29T17:23:00', 4.5, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-29T23:23:00', 1.6, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-29T05:23:00', 4.7, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-29T11:23:00', 1.4, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-30T18:30:00', 4.1, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-30T00:30:00', 1.2, 0)
INSERT INTO ops.TideTable VALUES (1, '2025-06-30T06:30:00', 4.3, 1)
INSERT INTO ops.TideTable VALUES (1, '2025-06-30T12:30:00', 1.0, 0)
GO
INSERT INTO dbo.Department (Node, Name) VALUES (hierarchyid::GetRoot(), N'Ferries'), ('/1/', N'Desks'), ('/1/1/', N'North desk'), ('/2/', N'Decks')
GO
EXEC dbo.usp_SetSetting N'vat_rate', 0.2
EXEC dbo.usp_SetSetting N'open_from', N'05:30'
EXEC dbo.usp_SetSetting N'max_places', 9
EXEC dbo.usp_SetSetting N'board_url', N'http://board.kestrelbay.example'
GO
