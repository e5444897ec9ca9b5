CREATE TABLE [sales].[Payment] (
    [PaymentId]     int IDENTITY(1,1) NOT NULL PRIMARY KEY,
    [BookingId]     bigint NOT NULL,
    [ReceiptNumber] int NOT NULL,
    [PaidAt]        datetime NOT NULL,
    [Method]        varchar(8) NOT NULL,
    [Amount]        money NOT NULL,
    [Currency]      [dbo].[CurrencyCode],
    [CardToken]     varbinary(256) NULL,
    [Authorised]    bit NULL,
    [ReversalOf]    int NULL REFERENCES [sales].[Payment] ([PaymentId])
)
GO

CREATE TABLE [sales].[DailyTakings] (
    [Day]        date NOT NULL,
    [Desk]       varchar(10) NOT NULL,
    [Cash]       money NOT NULL,
    [Card]       money NOT NULL,
    [Difference] AS ([Cash] + [Card]),
    [ClosedBy]   nvarchar(128) NULL,
    CONSTRAINT [PK_DailyTakings] PRIMARY KEY ([Day], [Desk])
)
GO

CREATE TABLE [sales].[Refund] (
    [RefundId]   int IDENTITY(1,1) PRIMARY KEY,
    [PaymentId]  int NOT NULL,
    [Reason]     text NULL,
    [Amount]     money NOT NULL,
    [GrantedBy]  nvarchar(128) NOT NULL,
    [GrantedAt]  datetime NOT NULL DEFAULT (GETDATE())
)
GO

IF OBJECT_ID(N'sales.ExchangeRate', N'U') IS NOT NULL
    DROP TABLE sales.ExchangeRate
GO
CREATE TABLE sales.ExchangeRate
(
    Currency   char(3) NOT NULL,
    RateDate   date NOT NULL,
    Rate       numeric(18, 8) NOT NULL,
    CONSTRAINT PK_ExchangeRate PRIMARY KEY CLUSTERED (Currency, RateDate) WITH (DATA_COMPRESSION = ROW)
)
GO
