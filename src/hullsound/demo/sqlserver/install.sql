-- Ferry ticketing of the Kestrel Bay harbour authority. Run with the command-line client from this folder.
:on error exit
:setvar DatabaseName FerryTicketing
:setvar DataFolder D:\Data

USE [master]
GO

IF DB_ID(N'$(DatabaseName)') IS NULL
BEGIN
    CREATE DATABASE [$(DatabaseName)]
    ON PRIMARY (NAME = N'ferry_data', FILENAME = N'$(DataFolder)\ferry.mdf', SIZE = 512MB, FILEGROWTH = 128MB),
    FILEGROUP [HISTORY] (NAME = N'ferry_history', FILENAME = N'$(DataFolder)\ferry_history.ndf', SIZE = 1024MB)
    LOG ON (NAME = N'ferry_log', FILENAME = N'$(DataFolder)\ferry.ldf', SIZE = 256MB)
    COLLATE Latin1_General_CI_AS
END
GO

ALTER DATABASE [$(DatabaseName)] SET RECOVERY FULL
ALTER DATABASE [$(DatabaseName)] SET READ_COMMITTED_SNAPSHOT ON WITH ROLLBACK IMMEDIATE
ALTER DATABASE [$(DatabaseName)] SET COMPATIBILITY_LEVEL = 150
GO

USE [$(DatabaseName)]
GO

SET ANSI_NULLS ON
SET QUOTED_IDENTIFIER ON
GO

:r security.sql
:r types.sql
:r tables\reference.sql
:r tables\sailing.sql
:r tables\booking.sql
:r tables\payment.sql
:r tables\staff.sql
:r tables\history.sql
:r constraints.sql
:r indexes.sql
:r functions\scalar.sql
:r functions\tables.sql
:r views\sailing.sql
:r views\revenue.sql
:r procedures\booking.sql
:r procedures\sailing.sql
:r procedures\payment.sql
:r procedures\maintenance.sql
:r procedures\reports.sql
:r triggers\audit.sql
:r triggers\rules.sql
:r reference_data.sql
:r messaging.sql
:r jobs.sql

PRINT N'Ferry ticketing installed in ' + DB_NAME() + N' on ' + CONVERT(nvarchar(30), SYSDATETIME(), 126)
GO
