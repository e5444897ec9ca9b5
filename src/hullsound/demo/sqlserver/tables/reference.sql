CREATE TABLE [dbo].[Port] (
    [PortId]      int IDENTITY(1,1) NOT NULL CONSTRAINT [PK_Port] PRIMARY KEY CLUSTERED,
    [PortCode]    char(5) COLLATE Latin1_General_BIN2 NOT NULL CONSTRAINT [UQ_Port_Code] UNIQUE,
    [PortName]    nvarchar(60) NOT NULL,
    [Latitude]    decimal(9, 6) NULL,
    [Longitude]   decimal(9, 6) NULL,
    [Location]    geography NULL,
    [TimeZone]    varchar(40) NOT NULL CONSTRAINT [DF_Port_Zone] DEFAULT ('GMT Standard Time'),
    [IsActive]    bit NOT NULL CONSTRAINT [DF_Port_Active] DEFAULT ((1))
) ON [PRIMARY]
GO

CREATE TABLE [dbo].[Route] (
    [RouteId]        int IDENTITY(100,10) NOT NULL,
    [FromPortId]     int NOT NULL,
    [ToPortId]       int NOT NULL,
    [RouteName]      AS (CONVERT(varchar(12), [FromPortId]) + '-' + CONVERT(varchar(12), [ToPortId])) PERSISTED NOT NULL,
    [DistanceMiles]  decimal(6, 1) NOT NULL,
    [CrossingTime]   time(0) NOT NULL,
    [Season]         tinyint NOT NULL DEFAULT 0,
    [Notes]          nvarchar(max) NULL,
    CONSTRAINT [PK_Route] PRIMARY KEY CLUSTERED ([RouteId] ASC)
        WITH (PAD_INDEX = OFF, IGNORE_DUP_KEY = OFF, FILLFACTOR = 90) ON [PRIMARY],
    CONSTRAINT [CK_Route_Ports] CHECK ([FromPortId] <> [ToPortId])
) ON [PRIMARY] TEXTIMAGE_ON [PRIMARY]
GO

CREATE TABLE [dbo].[Vessel] (
    [VesselId]       int NOT NULL PRIMARY KEY NONCLUSTERED,
    [VesselName]     nvarchar(60) NOT NULL,
    [CallSign]       varchar(10) NULL,
    [PassengerLimit] smallint NOT NULL CHECK ([PassengerLimit] BETWEEN 1 AND 1500),
    [DeckMetres]     decimal(7, 2) NOT NULL DEFAULT ((0)),
    [Commissioned]   smalldatetime NULL,
    [Papers]         xml([ops].[ManifestSchema]) NULL,
    [Photo]          varbinary(max) NULL,
    [RowGuid]        uniqueidentifier ROWGUIDCOL NOT NULL CONSTRAINT [DF_Vessel_Guid] DEFAULT (NEWSEQUENTIALID()),
    [Version]        rowversion NOT NULL
)
GO

CREATE TABLE dbo.FareClass
(
    FareCode      char(4)       NOT NULL CONSTRAINT PK_FareClass PRIMARY KEY,
    Description   nvarchar(100) NOT NULL,
    MinAge        tinyint       NULL,
    MaxAge        tinyint       NULL,
    Discount      decimal(5, 4) NOT NULL CONSTRAINT DF_FareClass_Discount DEFAULT (0),
    SortOrder     int           SPARSE NULL,
    CONSTRAINT CK_FareClass_Age CHECK (MinAge IS NULL OR MaxAge IS NULL OR MinAge <= MaxAge)
)

CREATE TABLE dbo.Tariff
(
    TariffId      int IDENTITY NOT NULL PRIMARY KEY,
    RouteId       int NOT NULL REFERENCES dbo.Route (RouteId) ON DELETE NO ACTION ON UPDATE CASCADE,
    FareCode      char(4) NOT NULL CONSTRAINT FK_Tariff_Fare FOREIGN KEY REFERENCES dbo.FareClass (FareCode),
    ValidFrom     date NOT NULL,
    ValidTo       date NULL,
    Price         money NOT NULL,
    Currency      dbo.CurrencyCode,
    CONSTRAINT UQ_Tariff UNIQUE NONCLUSTERED (RouteId, FareCode, ValidFrom DESC)
)
GO

CREATE TABLE dbo.Setting
(
    Name          sysname NOT NULL PRIMARY KEY,
    Value         sql_variant NULL,
    ChangedAt     datetime NOT NULL DEFAULT GETDATE(),
    ChangedBy     sysname NOT NULL DEFAULT SUSER_SNAME()
)
GO

CREATE TABLE dbo.Department
(
    Node          hierarchyid NOT NULL PRIMARY KEY,
    Level         AS Node.GetLevel() PERSISTED,
    Name          nvarchar(50) NOT NULL
)
GO
