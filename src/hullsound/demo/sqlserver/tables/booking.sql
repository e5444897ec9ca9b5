CREATE TABLE [sales].[Customer] (
    [CustomerId]   int IDENTITY(1,1) NOT NULL CONSTRAINT [PK_Customer] PRIMARY KEY,
    [FamilyName]   nvarchar(80) NOT NULL,
    [GivenName]    nvarchar(80) NULL,
    [FullName]     AS (LTRIM(ISNULL([GivenName] + N' ', N'') + [FamilyName])),
    [Email]        varchar(254) MASKED WITH (FUNCTION = 'email()') NULL,
    [Phone]        [dbo].[PhoneNumber] NULL,
    [BirthDate]    date NULL,
    [Newsletter]   bit NOT NULL DEFAULT ((0)),
    [Preferences]  xml NULL,
    [CreatedAt]    datetime NOT NULL CONSTRAINT [DF_Customer_Created] DEFAULT (GETDATE()),
    [ValidFrom]    datetime2 GENERATED ALWAYS AS ROW START HIDDEN NOT NULL,
    [ValidTo]      datetime2 GENERATED ALWAYS AS ROW END HIDDEN NOT NULL,
    PERIOD FOR SYSTEM_TIME ([ValidFrom], [ValidTo])
) WITH (SYSTEM_VERSIONING = ON (HISTORY_TABLE = [audit].[CustomerHistory]))
GO

CREATE TABLE [sales].[Booking] (
    [BookingId]     bigint NOT NULL CONSTRAINT [DF_Booking_Id] DEFAULT (NEXT VALUE FOR [sales].[BookingNumber]),
    [CustomerId]    int NOT NULL,
    [SailingId]     int NOT NULL,
    [SailingDate]   date NOT NULL,
    [BookedAt]      datetime2(0) NOT NULL DEFAULT (SYSDATETIME()),
    [BookedBy]      nvarchar(128) NOT NULL DEFAULT (SUSER_SNAME()),
    [Channel]       varchar(10) NOT NULL DEFAULT ('DESK'),
    [Status]        tinyint NOT NULL DEFAULT ((1)),
    [TotalPrice]    money NOT NULL DEFAULT ((0)),
    [Currency]      [dbo].[CurrencyCode] NOT NULL DEFAULT ('KBC'),
    [Remark]        ntext NULL,
    [Stamp]         timestamp NOT NULL,
    CONSTRAINT [PK_Booking] PRIMARY KEY NONCLUSTERED ([BookingId])
)
GO

CREATE TABLE [sales].[BookingPassenger] (
    [BookingId]    bigint NOT NULL,
    [LineNumber]   smallint NOT NULL,
    [FamilyName]   nvarchar(80) NOT NULL,
    [GivenName]    nvarchar(80) NULL,
    [FareCode]     char(4) NOT NULL,
    [NeedsRamp]    bit NOT NULL DEFAULT ((0)),
    [Price]        money NOT NULL,
    [BoardedAt]    datetime NULL,
    CONSTRAINT [PK_BookingPassenger] PRIMARY KEY CLUSTERED ([BookingId] ASC, [LineNumber] ASC)
)

CREATE TABLE [sales].[BookingVehicle] (
    [BookingId]    bigint NOT NULL,
    [Plate]        varchar(16) NOT NULL,
    [LengthM]      decimal(4, 2) NOT NULL,
    [HeightM]      decimal(4, 2) NULL,
    [IsHazardous]  bit NOT NULL DEFAULT 0,
    [Price]        smallmoney NOT NULL,
    CONSTRAINT [PK_BookingVehicle] PRIMARY KEY ([BookingId], [Plate])
)
GO

CREATE TABLE sales.Waitlist
(
    SailingId    int NOT NULL,
    CustomerId   int NOT NULL,
    AskedAt      datetime NOT NULL DEFAULT CURRENT_TIMESTAMP,
    Places       tinyint NOT NULL,
    NotifiedAt   datetime NULL,
    PRIMARY KEY (SailingId, CustomerId)
)
GO

CREATE TABLE sales.Voucher
(
    VoucherCode   varchar(20) NOT NULL PRIMARY KEY,
    IssuedTo      int NULL FOREIGN KEY REFERENCES sales.Customer,
    Amount        money NOT NULL,
    Remaining     money NOT NULL,
    ValidUntil    date NOT NULL,
    IsVoid        AS (CASE WHEN Remaining <= 0 THEN 1 ELSE 0 END)
)
GO
