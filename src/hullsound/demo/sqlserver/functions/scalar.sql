SET ANSI_NULLS ON
GO
CREATE FUNCTION dbo.fn_AgeOn (@BirthDate date, @OnDate date)
RETURNS int
WITH SCHEMABINDING, RETURNS NULL ON NULL INPUT
AS
BEGIN
    RETURN DATEDIFF(year, @BirthDate, @OnDate)
         - CASE WHEN DATEADD(year, DATEDIFF(year, @BirthDate, @OnDate), @BirthDate) > @OnDate THEN 1 ELSE 0 END
END
GO
CREATE OR ALTER FUNCTION dbo.fn_LocalTime (@Utc datetime2(0), @PortId int)
RETURNS datetime2(0)
AS
BEGIN
    DECLARE @Zone varchar(40)
    SELECT @Zone = TimeZone FROM dbo.Port WHERE PortId = @PortId
    IF @Zone IS NULL RETURN @Utc
    RETURN CONVERT(datetime2(0), @Utc AT TIME ZONE 'UTC' AT TIME ZONE @Zone)
END
GO
CREATE FUNCTION [sales].[fn_PriceOf] (@RouteId int, @FareCode char(4), @OnDate date = NULL)
RETURNS money
AS
BEGIN
    DECLARE @Price money, @Discount decimal(5, 4) = 0;

    SET @OnDate = ISNULL(@OnDate, CAST(GETDATE() AS date));

    SELECT TOP 1 @Price = t.Price
    FROM dbo.Tariff AS t WITH (NOLOCK)
    WHERE t.RouteId = @RouteId AND t.FareCode = @FareCode
      AND t.ValidFrom <= @OnDate AND (t.ValidTo IS NULL OR t.ValidTo >= @OnDate)
    ORDER BY t.ValidFrom DESC;

    SELECT @Discount = f.Discount FROM dbo.FareClass f WHERE f.FareCode = @FareCode;

    -- Night crossings cost a tenth less.
    IF EXISTS (SELECT * FROM dbo.Route WHERE RouteId = @RouteId AND Season & 4 = 4)
        SET @Price *= 0.9;

    RETURN ROUND(@Price * (1 - @Discount), 2);
END;
GO
CREATE FUNCTION dbo.fn_CheckDigit (@Digits varchar(20)) RETURNS char(1)
AS
BEGIN
    DECLARE @Sum int, @Position int
    SELECT @Sum = 0, @Position = LEN(@Digits)
    WHILE @Position > 0
    BEGIN
        IF SUBSTRING(@Digits, @Position, 1) NOT LIKE '[0-9]'
        BEGIN
            SET @Position = @Position - 1
            CONTINUE
        END
        SET @Sum = @Sum + CAST(SUBSTRING(@Digits, @Position, 1) AS int) * CASE WHEN (LEN(@Digits) - @Position) % 2 = 0 THEN 3 ELSE 1 END
        SET @Position -= 1
        IF @Sum > 10000 BREAK
    END
    RETURN CONVERT(char(1), (10 - @Sum % 10) % 10)
END
GO
CREATE FUNCTION dbo.fn_Initials (@Name nvarchar(200)) RETURNS nvarchar(20) AS
BEGIN
    DECLARE @Result nvarchar(20) = N'', @At int = 1
    SET @Name = LTRIM(RTRIM(@Name))
    WHILE @At > 0 AND LEN(@Result) < 20
    BEGIN
        SET @Result = @Result + UPPER(LEFT(@Name, 1))
        SET @At = CHARINDEX(N' ', @Name)
        IF @At > 0 SET @Name = LTRIM(STUFF(@Name, 1, @At, N''))
    END
    RETURN @Result
END
GO
CREATE FUNCTION dbo.fn_Distance (@From geography, @To geography) RETURNS float
AS EXTERNAL NAME [FerryGeometry].[KestrelBay.Ferry.Geometry].[Distance]
GO
CREATE FUNCTION ops.fn_TideAt (@PortId int, @At datetime)
RETURNS float
AS
BEGIN
    DECLARE @Before float, @After float, @BeforeTime datetime, @AfterTime datetime
    SELECT TOP (1) @Before = HeightM, @BeforeTime = TideTime FROM ops.TideTable
    WHERE PortId = @PortId AND TideTime <= @At ORDER BY TideTime DESC
    SELECT TOP (1) @After = HeightM, @AfterTime = TideTime FROM ops.TideTable
    WHERE PortId = @PortId AND TideTime > @At ORDER BY TideTime
    IF @Before IS NULL OR @After IS NULL
        RETURN COALESCE(@Before, @After)
    RETURN @Before + (@After - @Before)
        * (1 - COS(PI() * DATEDIFF(second, @BeforeTime, @At) / NULLIF(DATEDIFF(second, @BeforeTime, @AfterTime), 0))) / 2.0
END
GO
