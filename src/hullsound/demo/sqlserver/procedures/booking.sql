SET QUOTED_IDENTIFIER ON
GO
CREATE PROCEDURE [dbo].[usp_LogError]
    @ErrorId int = 0 OUTPUT
AS
BEGIN
    SET NOCOUNT ON;
    BEGIN TRY
        IF ERROR_NUMBER() IS NULL
            RETURN;
        IF XACT_STATE() = -1
        BEGIN
            PRINT 'Cannot log the error: the transaction can only be rolled back.';
            RETURN;
        END
        INSERT INTO audit.ErrorLog (ErrorNumber, ErrorSeverity, ErrorState, ErrorProcedure, ErrorLine, ErrorMessage)
        VALUES (ERROR_NUMBER(), ERROR_SEVERITY(), ERROR_STATE(), ERROR_PROCEDURE(), ERROR_LINE(), ERROR_MESSAGE());
        SET @ErrorId = SCOPE_IDENTITY();
    END TRY
    BEGIN CATCH
        PRINT 'An error occurred in usp_LogError: ' + ERROR_MESSAGE();
        RETURN -1;
    END CATCH
END;
GO

CREATE PROCEDURE [sales].[usp_MakeBooking]
    @CustomerId  int,
    @SailingId   int,
    @Passengers  [sales].[PassengerList] READONLY,
    @Channel     varchar(10) = 'DESK',
    @BookingId   bigint OUTPUT
WITH EXECUTE AS OWNER
AS
BEGIN
    SET NOCOUNT, XACT_ABORT ON;

    DECLARE @Asked int, @Left int, @RouteId int, @SailingDate date, @Total money;
    DECLARE @Inserted TABLE (LineNumber smallint PRIMARY KEY, Price money NOT NULL);

    SELECT @Asked = COUNT(*) FROM @Passengers;
    IF @Asked = 0
    BEGIN
        RAISERROR ('A booking needs at least one passenger.', 16, 1);
        RETURN 1;
    END;

    BEGIN TRY
        BEGIN TRANSACTION;

        SELECT @Left = v.PassengerLimit - s.PlacesSold, @RouteId = s.RouteId, @SailingDate = s.SailingDate
        FROM ops.Sailing s WITH (UPDLOCK, HOLDLOCK)
        JOIN dbo.Vessel v ON v.VesselId = s.VesselId
        WHERE s.SailingId = @SailingId AND s.[Status] IN ('P', 'B');

        IF @@ROWCOUNT = 0
            THROW 51000, 'No such sailing, or it has left.', 1;
        IF @Left < @Asked
            RAISERROR (51001, 16, 1, @SailingId, @Asked, @Left);

        SET @BookingId = NEXT VALUE FOR sales.BookingNumber;

        INSERT INTO sales.Booking (BookingId, CustomerId, SailingId, SailingDate, Channel)
        VALUES (@BookingId, @CustomerId, @SailingId, @SailingDate, @Channel);

        INSERT INTO sales.BookingPassenger (BookingId, LineNumber, FamilyName, GivenName, FareCode, NeedsRamp, Price)
        OUTPUT inserted.LineNumber, inserted.Price INTO @Inserted (LineNumber, Price)
        SELECT @BookingId, p.LineNumber, p.FamilyName, p.GivenName, p.FareCode, p.NeedsRamp,
               sales.fn_PriceOf(@RouteId, p.FareCode, @SailingDate)
        FROM @Passengers AS p;

        SELECT @Total = SUM(Price) FROM @Inserted;
        UPDATE sales.Booking SET TotalPrice = @Total, [Status] = 2 WHERE BookingId = @BookingId;
        UPDATE ops.Sailing SET PlacesSold += @Asked WHERE SailingId = @SailingId;

        COMMIT TRANSACTION;
    END TRY
    BEGIN CATCH
        IF @@TRANCOUNT > 0 ROLLBACK TRANSACTION;
        EXEC dbo.usp_LogError;
        THROW;
    END CATCH;
    RETURN 0;
END;
GO

CREATE PROC sales.usp_CancelBooking @BookingId bigint, @Reason varchar(200) = NULL, @Fee money = 0
AS
SET NOCOUNT ON
DECLARE @SailingId int, @Count int, @Paid money, @Rc int, @Note nvarchar(400)

IF NOT EXISTS (SELECT 1 FROM sales.Booking WHERE BookingId = @BookingId)
BEGIN
    RAISERROR ('Booking %I64d does not exist', 11, 1, @BookingId) WITH NOWAIT
    RETURN (-1)
END

BEGIN TRAN CancelBooking
    SELECT @SailingId = SailingId, @Count = (SELECT COUNT(*) FROM sales.BookingPassenger p WHERE p.BookingId = b.BookingId)
    FROM sales.Booking b WHERE BookingId = @BookingId

    UPDATE sales.Booking SET [Status] = 9, Remark = @Reason WHERE BookingId = @BookingId
    IF @@ERROR <> 0 GOTO Failed

    UPDATE s
    SET s.PlacesSold = s.PlacesSold - @Count
    FROM ops.Sailing AS s
    INNER JOIN sales.Booking AS b ON b.SailingId = s.SailingId
    WHERE b.BookingId = @BookingId
    IF @@ERROR <> 0 GOTO Failed

    SELECT @Paid = SUM(Amount) FROM sales.Payment WHERE BookingId = @BookingId
    IF @Paid - @Fee > $0.00
    BEGIN
        SAVE TRAN BeforeRefund
        EXECUTE @Rc = sales.usp_Refund @BookingId = @BookingId, @Amount = @Paid, @Fee = @Fee
        IF @Rc <> 0 ROLLBACK TRAN BeforeRefund
    END
COMMIT TRAN CancelBooking

SET @Note = N'Booking ' + CAST(@BookingId AS nvarchar(20)) + N' cancelled: ' + ISNULL(@Reason, N'no reason')
EXEC ops.usp_AddEvent @SailingId, 'CANCEL', @Note
RETURN 0

Failed:
    ROLLBACK TRAN CancelBooking
    RETURN 1
GO

CREATE PROCEDURE sales.usp_FindBookings
    @FamilyName nvarchar(80) = NULL,
    @Email      varchar(254) = NULL,
    @From       date = NULL,
    @OrderBy    sysname = N'BookedAt',
    @Page       int = 1,
    @PageSize   int = 25
AS
BEGIN
    SET NOCOUNT ON;
    DECLARE @sql nvarchar(max), @params nvarchar(500);

    SET @sql = N'SELECT b.BookingId, c.FullName, b.SailingDate, b.TotalPrice
FROM sales.Booking b JOIN sales.Customer c ON c.CustomerId = b.CustomerId
WHERE 1 = 1';
    IF @FamilyName IS NOT NULL SET @sql = @sql + N' AND c.FamilyName LIKE @name + N''%''';
    IF @Email IS NOT NULL SET @sql += N' AND c.Email = @mail';
    IF @From IS NOT NULL SET @sql += N' AND b.SailingDate >= @since';
    SET @sql += N' ORDER BY ' + QUOTENAME(@OrderBy) + N' OFFSET @skip ROWS FETCH NEXT @take ROWS ONLY';

    SET @params = N'@name nvarchar(80), @mail varchar(254), @since date, @skip int, @take int';
    DECLARE @skip int = (@Page - 1) * @PageSize;
    EXEC sp_executesql @sql, @params, @name = @FamilyName, @mail = @Email, @since = @From, @skip = @skip, @take = @PageSize;
END
GO

CREATE PROCEDURE sales.usp_PromoteWaitlist @SailingId int
AS
BEGIN
    SET NOCOUNT ON
    DECLARE @CustomerId int, @Places tinyint, @Free int

    SELECT @Free = v.PassengerLimit - s.PlacesSold
    FROM ops.Sailing s JOIN dbo.Vessel v ON v.VesselId = s.VesselId WHERE s.SailingId = @SailingId

    DECLARE waiting CURSOR LOCAL FAST_FORWARD FOR
        SELECT CustomerId, Places FROM sales.Waitlist
        WHERE SailingId = @SailingId AND NotifiedAt IS NULL
        ORDER BY AskedAt
    OPEN waiting
    FETCH NEXT FROM waiting INTO @CustomerId, @Places
    WHILE @@FETCH_STATUS = 0 AND @Free > 0
    BEGIN
        IF @Places <= @Free
        BEGIN
            UPDATE sales.Waitlist SET NotifiedAt = GETDATE() WHERE SailingId = @SailingId AND CustomerId = @CustomerId
            SET @Free = @Free - @Places
            EXEC msdb.dbo.sp_send_dbmail @profile_name = 'Ferry', @recipients = 'desk@kestrelbay.example',
                @subject = 'Places free', @body = 'A place has come free on your sailing.'
        END
        FETCH NEXT FROM waiting INTO @CustomerId, @Places
    END
    CLOSE waiting
    DEALLOCATE waiting
END
GO

CREATE PROCEDURE sales.usp_CheckIn
    @BookingId bigint, @Gate tinyint
WITH NATIVE_COMPILATION, SCHEMABINDING
AS
BEGIN ATOMIC WITH (TRANSACTION ISOLATION LEVEL = SNAPSHOT, LANGUAGE = N'English')
    DECLARE @Now datetime2 = SYSDATETIME();
    INSERT INTO ops.CheckInQueue (BookingId, Gate, EnteredAt) VALUES (@BookingId, @Gate, @Now);
END
GO

CREATE PROCEDURE sales.usp_ImportCustomers @Json nvarchar(max)
AS
BEGIN
    SET NOCOUNT ON;
    MERGE INTO sales.Customer WITH (HOLDLOCK) AS target
    USING (
        SELECT j.FamilyName, j.GivenName, j.Email, j.BirthDate
        FROM OPENJSON(@Json, '$.customers')
        WITH (FamilyName nvarchar(80) '$.family', GivenName nvarchar(80) '$.given',
              Email varchar(254) '$.mail', BirthDate date '$.born', Extra nvarchar(max) '$.extra' AS JSON) AS j
        WHERE j.Email IS NOT NULL
    ) AS source
    ON target.Email = source.Email
    WHEN MATCHED AND (target.FamilyName <> source.FamilyName OR ISNULL(target.GivenName, N'') <> ISNULL(source.GivenName, N'')) THEN
        UPDATE SET FamilyName = source.FamilyName, GivenName = source.GivenName
    WHEN NOT MATCHED BY TARGET THEN
        INSERT (FamilyName, GivenName, Email, BirthDate)
        VALUES (source.FamilyName, source.GivenName, source.Email, source.BirthDate)
    OUTPUT $action, inserted.CustomerId, deleted.FamilyName;
END
GO

CREATE PROCEDURE sales.usp_ImportManifest @SailingId int, @Xml xml
AS
BEGIN
    DECLARE @handle int
    EXEC sp_xml_preparedocument @handle OUTPUT, @Xml
    INSERT INTO sales.BookingPassenger (BookingId, LineNumber, FamilyName, GivenName, FareCode, Price)
    SELECT x.booking, x.line, x.family, x.given, 'ADLT', 0
    FROM OPENXML(@handle, N'/manifest/person', 2)
    WITH (booking bigint '../@booking', line smallint '@line', family nvarchar(80), given nvarchar(80)) x
    EXEC sp_xml_removedocument @handle
    UPDATE ops.Manifest SET Content.modify('insert attribute imported {"yes"} into (/manifest)[1]') WHERE SailingId = @SailingId
END
GO
