USE [msdb]
GO
DECLARE @jobId binary(16), @rc int = 0
EXEC @rc = msdb.dbo.sp_add_job @job_name = N'Ferry - close desks', @enabled = 1, @owner_login_name = N'sa', @job_id = @jobId OUTPUT
IF (@@ERROR <> 0 OR @rc <> 0) GOTO QuitWithRollback
EXEC @rc = msdb.dbo.sp_add_jobstep @job_id = @jobId, @step_name = N'close', @subsystem = N'TSQL',
    @command = N'EXEC sales.usp_CloseDesk @Desk = ''NORTH''; EXEC sales.usp_CloseDesk @Desk = ''SOUTH'';', @database_name = N'FerryTicketing'
EXEC @rc = msdb.dbo.sp_add_jobschedule @job_id = @jobId, @name = N'nightly', @freq_type = 4, @freq_interval = 1, @active_start_time = 233000
QuitWithRollback:
IF (@@TRANCOUNT > 0) ROLLBACK TRANSACTION
GO
USE [FerryTicketing]
GO
