CREATE PROCEDURE sales.usp_Pay
    @BookingId bigint, @Method varchar(8), @Amount money, @CardNumber varchar(20) = NULL, @PaymentId int = NULL OUTPUT
AS
BEGIN
    SET NOCOUNT ON
    SET XACT_ABORT ON
    DECLARE @Token varbinary(256), @Receipt int, @Currency char(3), @Rate numeric(18, 8)

    IF @Method NOT IN ('CASH', 'CARD', 'VOUCHER')
        RAISERROR ('Unknown method %s', 16, 1, @Method)

    IF @CardNumber IS NOT NULL
    BEGIN
        OPEN SYMMETRIC KEY CardKey DECRYPTION BY CERTIFICATE CardCertificate
        SET @Token = ENCRYPTBYKEY(KEY_GUID('CardKey'), @CardNumber)
        CLOSE SYMMETRIC KEY CardKey
    END

    SELECT @Currency = Currency FROM sales.Booking WHERE BookingId = @BookingId
    SELECT TOP 1 @Rate = Rate FROM sales.ExchangeRate WHERE Currency = @Currency AND RateDate <= CONVERT(date, GETDATE()) ORDER BY RateDate DESC
    SET @Receipt = NEXT VALUE FOR sales.ReceiptNumber

    BEGIN TRANSACTION
    INSERT INTO sales.Payment (BookingId, ReceiptNumber, PaidAt, Method, Amount, Currency, CardToken, Authorised)
    VALUES (@BookingId, @Receipt, GETDATE(), @Method, ROUND(@Amount * ISNULL(@Rate, 1), 2), @Currency, @Token,
            IIF(@Method = 'CARD', 0, 1))
    SELECT @PaymentId = @@IDENTITY
    IF (SELECT SUM(Amount) FROM sales.Payment WHERE BookingId = @BookingId) >= (SELECT TotalPrice FROM sales.Booking WHERE BookingId = @BookingId)
        UPDATE sales.Booking SET [Status] = 3 WHERE BookingId = @BookingId
    COMMIT TRANSACTION
END
GO

CREATE PROCEDURE sales.usp_Refund @BookingId bigint, @Amount money, @Fee money = 0.00
AS
BEGIN
    DECLARE @PaymentId int, @Left money = @Amount - @Fee, @Part money
    WHILE @Left > 0
    BEGIN
        SELECT TOP 1 @PaymentId = p.PaymentId, @Part = p.Amount - ISNULL(SUM(r.Amount), 0)
        FROM sales.Payment p LEFT JOIN sales.Refund r ON r.PaymentId = p.PaymentId
        WHERE p.BookingId = @BookingId AND p.ReversalOf IS NULL
        GROUP BY p.PaymentId, p.Amount, p.PaidAt
        HAVING p.Amount > ISNULL(SUM(r.Amount), 0)
        ORDER BY p.PaidAt
        IF @@ROWCOUNT = 0 RETURN 1
        SET @Part = CASE WHEN @Part > @Left THEN @Left ELSE @Part END
        INSERT sales.Refund (PaymentId, Amount, GrantedBy, Reason) SELECT @PaymentId, @Part, SYSTEM_USER, 'Cancellation'
        SET @Left -= @Part
    END
    RETURN 0
END
GO

CREATE PROCEDURE sales.usp_CloseDesk @Desk varchar(10), @Day date = NULL
AS
BEGIN
    SET NOCOUNT ON
    SET @Day = COALESCE(@Day, CAST(CURRENT_TIMESTAMP AS date))
    DECLARE @tries int = 0
Again:
    BEGIN TRY
        BEGIN TRAN
        INSERT INTO sales.DailyTakings ([Day], Desk, Cash, Card, ClosedBy)
        SELECT @Day, @Desk,
               SUM(CASE WHEN Method = 'CASH' THEN Amount ELSE 0 END),
               SUM(CASE WHEN Method = 'CARD' THEN Amount ELSE 0 END), USER_NAME()
        FROM sales.Payment
        WHERE CONVERT(varchar(10), PaidAt, 112) = CONVERT(varchar(10), @Day, 112)
        COMMIT
    END TRY
    BEGIN CATCH
        IF @@TRANCOUNT > 0 ROLLBACK
        IF ERROR_NUMBER() = 1205 AND @tries < 3
        BEGIN
            SET @tries += 1
            WAITFOR DELAY '00:00:02'
            GOTO Again
        END
        IF ERROR_NUMBER() = 2627
            PRINT 'The desk is closed already.'
        ELSE
            EXEC dbo.usp_LogError
    END CATCH
END
GO

CREATE PROCEDURE sales.usp_LoadRates @File nvarchar(260)
AS
BEGIN
    CREATE TABLE #Rates (Currency char(3), RateDate varchar(10), Rate varchar(20))
    DECLARE @cmd nvarchar(1000) = N'BULK INSERT #Rates FROM ''' + @File + N''' WITH (FIELDTERMINATOR = '','', ROWTERMINATOR = ''\n'', FIRSTROW = 2)'
    EXEC (@cmd)
    UPDATE e SET Rate = TRY_CONVERT(numeric(18, 8), r.Rate)
    FROM sales.ExchangeRate e JOIN #Rates r ON r.Currency = e.Currency AND TRY_CAST(r.RateDate AS date) = e.RateDate
    INSERT INTO sales.ExchangeRate (Currency, RateDate, Rate)
    SELECT r.Currency, TRY_PARSE(r.RateDate AS date USING 'en-GB'), r.Rate FROM #Rates r
    WHERE NOT EXISTS (SELECT * FROM sales.ExchangeRate e WHERE e.Currency = r.Currency AND e.RateDate = r.RateDate)
    EXEC master..xp_cmdshell 'del D:\Import\rates.csv', no_output
END
GO
