CREATE TYPE [dbo].[CurrencyCode] FROM char(3) NOT NULL
GO
CREATE TYPE [dbo].[PhoneNumber] FROM varchar(24) NULL
GO
CREATE TYPE [sales].[PassengerList] AS TABLE
(
    LineNumber    int            NOT NULL PRIMARY KEY CLUSTERED,
    FamilyName    nvarchar(80)   NOT NULL,
    GivenName     nvarchar(80)   NULL,
    BirthDate     date           NULL,
    FareCode      char(4)        NOT NULL DEFAULT ('ADLT'),
    NeedsRamp     bit            NOT NULL DEFAULT (0),
    INDEX IX_Fare NONCLUSTERED (FareCode)
)
GO
CREATE TYPE [ops].[IdList] AS TABLE (Id int NOT NULL, UNIQUE (Id))
GO
CREATE SEQUENCE [sales].[BookingNumber] AS bigint START WITH 500000 INCREMENT BY 1 MINVALUE 1 NO MAXVALUE CACHE 50
GO
CREATE SEQUENCE [sales].[ReceiptNumber] AS int START WITH 1 INCREMENT BY 1 CYCLE NO CACHE
GO
CREATE XML SCHEMA COLLECTION [ops].[ManifestSchema] AS
N'<xsd:schema xmlns:xsd="http://www.w3.org/2001/XMLSchema"><xsd:element name="manifest" type="xsd:anyType"/></xsd:schema>'
GO
CREATE PARTITION FUNCTION [pf_SailingYear] (date) AS RANGE RIGHT FOR VALUES ('20220101', '20230101', '20240101', '20250101')
GO
CREATE PARTITION SCHEME [ps_SailingYear] AS PARTITION [pf_SailingYear] TO ([HISTORY], [HISTORY], [PRIMARY], [PRIMARY], [PRIMARY])
GO
CREATE SYNONYM [dbo].[HarbourPortCall] FOR [HARBOURSQL].[PortCalls].[dbo].[PortCall]
GO
CREATE DEFAULT [dbo].[def_Zero] AS 0
GO
CREATE RULE [dbo].[rul_Positive] AS @value >= 0
GO
EXEC sp_addmessage @msgnum = 51001, @severity = 16, @msgtext = N'Sailing %d is full: %d places asked, %d left.', @lang = 'us_english', @replace = 'replace'
GO
